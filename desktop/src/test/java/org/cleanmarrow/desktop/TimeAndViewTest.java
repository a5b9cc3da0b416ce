package org.cleanmarrow.desktop;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyEvent;
import org.cleanmarrow.desktop.viewport.Camera;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.Test;

/** Time's buttons and keys, and the keys of the view. */
public class TimeAndViewTest extends DeskWindow {
    @BeforeMethod(dependsOnMethods = "begin")
    public void openPilot() throws Exception {
        openDemo();
        on(() -> {
            desk.playback().clip().set("hail");
            desk.playback().seconds().set(0);
            window.viewport().requestFocus();
            return null;
        });
        quiet();
    }

    private double seconds() throws Exception {
        return on(() -> desk.playback().seconds().get());
    }

    @Test
    public void playedOnceItStopsAtItsLastFrameAndBeginsAnew() throws Exception {
        press("#play-round");
        on(() -> {
            desk.playback().seconds().set(46 / 24.0);
            return null;
        });
        press("#play");
        until("it stops", () -> !desk.playback().playing().get());
        assertThat(seconds()).isCloseTo(47 / 24.0, within(1e-6));
        double[] first = {Double.NaN};
        on(() -> {
            desk.playback()
                    .seconds()
                    .addListener((o, was, is) -> first[0] = Double.isNaN(first[0]) ? is.doubleValue() : first[0]);
            return null;
        });
        press("#play");
        until("it plays", () -> !Double.isNaN(first[0]));
        assertThat(first[0]).as("from the start").isLessThan(0.5);
        until("to the end", () -> !desk.playback().playing().get());
        assertThat(seconds()).isCloseTo(47 / 24.0, within(1e-6));
    }

    @Test
    public void framesAreSteppedAndJumpedAndNeverLeaveTheRange() throws Exception {
        press("#last-frame");
        assertThat(text("#time-what")).contains("47 of 0..47");
        press("#frame-on");
        assertThat(seconds()).isCloseTo(47 / 24.0, within(1e-6));
        press("#frame-back");
        assertThat(text("#time-what")).contains("46 of");
        press("#first-frame");
        press("#frame-back");
        assertThat(seconds()).isZero();
        on(() -> {
            window.viewport().requestFocus();
            return null;
        });
        hand.push(KeyCode.END);
        assertThat(seconds()).isCloseTo(47 / 24.0, within(1e-6));
        hand.push(KeyCode.HOME);
        assertThat(seconds()).isZero();
    }

    @Test
    public void viewsFromAllSidesShowTheWholePilot() throws Exception {
        double[][] wanted = {{0, 0}, {90, 0}, {0, 90}, {24, 8}};
        KeyCode[] keys = {KeyCode.DIGIT1, KeyCode.DIGIT2, KeyCode.DIGIT3, KeyCode.DIGIT4};
        for (int i = 0; i < keys.length; i++) {
            hand.push(keys[i]);
            quiet();
            Camera camera = camera();
            assertThat(camera.turn()).isEqualTo(wanted[i][0]);
            assertThat(camera.tilt()).isEqualTo(wanted[i][1]);
            var box = on(() -> window.viewport().bounds());
            for (var corner : new org.joml.Vector3d[] {box.min(), box.max()}) {
                var at = camera.toPicture(corner, width(), height());
                assertThat(at.x).isBetween(0.0, width());
                assertThat(at.y).isBetween(0.0, height());
            }
        }
    }

    /** While the key is down the view shows what was received; a release brings back what is now. */
    @Test
    public void holdingAKeyShowsWhatWasReceived() throws Exception {
        on(() -> {
            var view = window.viewport();
            view.fireEvent(new KeyEvent(KeyEvent.KEY_PRESSED, "", "", KeyCode.B, false, false, false, false));
            return null;
        });
        assertThat(on(() -> desk.seeing().before().get())).isTrue();
        on(() -> {
            var view = window.viewport();
            view.fireEvent(new KeyEvent(KeyEvent.KEY_RELEASED, "", "", KeyCode.B, false, false, false, false));
            return null;
        });
        assertThat(on(() -> desk.seeing().before().get())).isFalse();
    }

    @Test
    public void theTurntableTurnsUntilItIsStopped() throws Exception {
        double before = camera().turn();
        long start = System.nanoTime();
        hand.push(KeyCode.T);
        while (camera().turn() - before < 6) {
            assertThat(System.nanoTime() - start).as("it turns").isLessThan(PATIENCE_SECONDS * 1_000_000_000L);
        }
        double turned = camera().turn() - before;
        // 24 degrees a second by the clock, however few pictures are drawn: never ahead of it.
        assertThat(turned).isLessThanOrEqualTo(24 * (System.nanoTime() - start) / 1e9);
        hand.push(KeyCode.T);
        double stopped = camera().turn();
        pulses(5);
        assertThat(camera().turn()).isEqualTo(stopped);
    }

    @Test
    public void whatIsSeenIsSwitchedByKeyAndShownByTheBar() throws Exception {
        hand.push(KeyCode.V);
        hand.push(KeyCode.X);
        hand.push(KeyCode.N);
        hand.push(KeyCode.J);
        assertThat(on(() -> desk.seeing().points().get())).isTrue();
        assertThat(on(() -> desk.seeing().box().get())).isTrue();
        assertThat(on(() -> desk.seeing().names().get())).isTrue();
        assertThat(on(() -> desk.seeing().joints().get())).isFalse();
        var joints = (javafx.scene.control.ToggleButton) find("#view-joints");
        assertThat(on(joints::isSelected)).isFalse();
        click("#view-joints");
        assertThat(on(() -> desk.seeing().joints().get())).isTrue();
        hand.push(KeyCode.CONTROL, KeyCode.EQUALS);
        assertThat(on(() -> desk.preferences().scale().get())).isEqualTo(1.125);
        hand.push(KeyCode.CONTROL, KeyCode.MINUS);
        hand.push(KeyCode.CONTROL, KeyCode.MINUS);
        assertThat(on(() -> desk.preferences().scale().get())).isEqualTo(1);
    }
}
