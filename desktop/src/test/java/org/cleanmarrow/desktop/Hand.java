package org.cleanmarrow.desktop;

import javafx.geometry.Point2D;
import javafx.geometry.VerticalDirection;
import javafx.scene.Scene;
import javafx.scene.input.KeyCode;
import javafx.scene.input.MouseButton;
import javafx.stage.Window;
import org.testfx.api.FxRobot;
import org.testfx.api.FxRobotContext;

/**
 * A mouse and a keyboard. Every act is over when the window has taken it in and laid itself out, which is one beat of its clock; the
 * robot beneath would wait five times as long after every press and every release.
 */
final class Hand {
    private final FxRobotContext robot = new FxRobot().robotContext();

    /** Straight there. */
    Hand moveTo(Point2D at) throws Exception {
        robot.getMouseRobot().moveNoWait(at);
        return taken();
    }

    Hand moveBy(double x, double y) throws Exception {
        return moveTo(robot.getBaseRobot().retrieveMouse().add(x, y));
    }

    Hand press(MouseButton button) throws Exception {
        robot.getMouseRobot().pressNoWait(button);
        return taken();
    }

    Hand release(MouseButton button) throws Exception {
        robot.getMouseRobot().releaseNoWait(button);
        return taken();
    }

    /** Where it is. */
    Hand click() throws Exception {
        press(MouseButton.PRIMARY);
        return release(MouseButton.PRIMARY);
    }

    Hand clickOn(Point2D at) throws Exception {
        moveTo(at);
        return click();
    }

    /** From one place to another, by way of the middle. */
    Hand drag(Point2D from, Point2D to) throws Exception {
        moveTo(from);
        press(MouseButton.PRIMARY);
        moveTo(from.midpoint(to));
        moveTo(to);
        return release(MouseButton.PRIMARY);
    }

    Hand scroll(int notches, VerticalDirection direction) throws Exception {
        robot.getScrollRobot().scroll(notches, direction);
        return taken();
    }

    /** Presses keys one after the other and lets go of them in the other order. */
    Hand push(KeyCode... keys) throws Exception {
        robot.getKeyboardRobot().pressNoWait(keys);
        taken();
        for (int i = keys.length - 1; i >= 0; i--) {
            robot.getKeyboardRobot().releaseNoWait(keys[i]);
        }
        return taken();
    }

    /** Types text where the keyboard is. */
    Hand write(String text) throws Exception {
        Scene scene = DeskWindow.on(() -> Window.getWindows().stream()
                .filter(Window::isFocused)
                .findFirst()
                .orElseThrow()
                .getScene());
        for (String character : text.isEmpty() ? new String[0] : text.split("")) {
            robot.getBaseRobot().typeKeyboard(scene, KeyCode.UNDEFINED, character);
        }
        return taken();
    }

    private Hand taken() throws Exception {
        DeskWindow.pulses(1);
        return this;
    }
}
