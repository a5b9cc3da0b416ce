package org.cleanmarrow.bench;

import java.nio.ByteBuffer;
import org.cleanmarrow.desktop.desk.ShadingMode;
import org.cleanmarrow.desktop.viewport.Camera;
import org.cleanmarrow.desktop.viewport.GlContext;
import org.cleanmarrow.desktop.viewport.GlMissing;
import org.cleanmarrow.desktop.viewport.Picker;
import org.cleanmarrow.desktop.viewport.Picture;
import org.cleanmarrow.desktop.viewport.Renderer;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.lwjgl.BufferUtils;
import org.lwjgl.opengl.GL33C;

/** The view: pictures through OpenGL into memory, and what lies under the pointer. */
final class ViewBench {
    private static final int WIDTH = 900;
    private static final int HEIGHT = 700;

    private ViewBench() {}

    static void run(Report report, Asset big) throws Exception {
        picking(report, big);
        report.title("Pictures of 900 x 700, 100,000 vertices, 199,500 triangles");
        try (GlContext context = GlContext.create()) {
            report.note("drawn by " + GL33C.glGetString(GL33C.GL_RENDERER));
            Renderer renderer = new Renderer();
            ByteBuffer out = BufferUtils.createByteBuffer(WIDTH * HEIGHT * 4);
            int[] round = {0};
            report.within(
                    "another joint's heat map",
                    Timing.of(10, 60, () -> renderer.draw(picture(big, null, 0, round[0]++ % 200, 24), out)),
                    Report.FRAME);
            Clip clip = big.clips().getFirst();
            report.within(
                    "another pose",
                    Timing.of(10, 60, () -> renderer.draw(picture(big, clip, round[0]++ % 300 / 30.0, 90, 24), out)),
                    Report.FRAME);
            report.within(
                    "another side",
                    Timing.of(10, 60, () -> renderer.draw(picture(big, null, 0, 90, round[0]++), out)),
                    Report.FRAME);
        } catch (GlMissing e) {
            report.note("no picture can be drawn here: " + e.getMessage());
        }
    }

    private static Picture picture(Asset asset, Clip clip, double seconds, int joint, double turn) {
        return new Picture(
                WIDTH,
                HEIGHT,
                Camera.front().turned(turn, 8),
                asset,
                asset,
                0,
                clip,
                clip,
                seconds,
                ShadingMode.INFLUENCE,
                joint,
                -1,
                null,
                Picture.Marked.NONE,
                Picture.Marked.NONE,
                Picture.Look.PLAIN,
                Box.empty(),
                false);
    }

    private static void picking(Report report, Asset big) throws Exception {
        report.title("Picking, 199,500 triangles");
        Picker picker = new Picker();
        Camera camera = Camera.front();
        Clip clip = big.clips().getFirst();
        Picker.Region half = Picker.Region.box(0, 175, WIDTH, 525);
        int[] round = {0};
        picker.pose(big, null, 0);
        picker.pick(camera.ray(450, 350, WIDTH, HEIGHT));
        report.within(
                "pick after another pose",
                Timing.of(30, 100, () -> {
                    picker.pose(big, clip, round[0]++ % 300 / 30.0);
                    picker.pick(camera.ray(450, 350, WIDTH, HEIGHT));
                }),
                Report.FRAME);
        report.within(
                "pick in the same pose",
                Timing.of(30, 100, () -> picker.pick(camera.ray(400 + round[0]++ % 100, 350, WIDTH, HEIGHT))),
                Report.FRAME);
        report.within(
                "choose about 50,000 vertices by a box",
                Timing.of(10, 40, () -> picker.within(camera, WIDTH, HEIGHT, half, false)),
                Report.FRAME);
        report.within(
                "the same, only what is seen",
                // From another side each time: what lies before what is found anew.
                Timing.of(
                        5,
                        20,
                        () -> picker.within(
                                camera.turned(camera.turn() + round[0]++ % 7, camera.tilt()),
                                WIDTH,
                                HEIGHT,
                                half,
                                true)),
                Report.FRAME);
        Picker.Hit hit = picker.pick(camera.ray(450, 350, WIDTH, HEIGHT));
        report.within(
                "one touch of a brush",
                Timing.of(10, 60, () -> picker.around(camera, WIDTH, HEIGHT, hit, 0.05, false)),
                Report.FRAME);
    }
}
