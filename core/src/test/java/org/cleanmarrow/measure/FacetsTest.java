package org.cleanmarrow.measure;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Arrays;
import java.util.List;
import org.cleanmarrow.kit.Marker;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.trial.Moments;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.testng.annotations.Test;

/** Things of further kinds are compared without the probe knowing their kind. */
public class FacetsTest {
    @Test
    public void aThingThatMovesIsSaidByNameAndDistance() {
        Asset bare = RandomAssets.of(8);
        int crate = bare.findNode("crate");
        Marker peg = new Marker("peg", crate, new float[] {0.1f, 0.2f, 0.3f});
        Asset source = bare.withAttached(List.of(peg));
        assertThat(MotionProbe.compare(source, bare.withAttached(List.of(peg)), Work.QUIET)
                        .sound())
                .isTrue();
        Asset moved = bare.withAttached(List.of(peg.moved(new Matrix4d().translation(0.05, 0, 0))));
        Motion motion = MotionProbe.compare(source, moved, Work.QUIET);
        double scale = new Rig(source).rest().world()[crate].getScale(new Vector3d()).x;
        assertThat(motion.joint()).isEqualTo("peg");
        assertThat(motion.jointsMetres()).isCloseTo(0.05 * scale, within(1e-5 * scale));
        assertThat(motion.differences(motion.toleranceMetres()).toString()).contains("peg moves otherwise");
        assertThat(MotionProbe.compare(source, bare, Work.QUIET).unmatched().toString())
                .contains("peg is only in the first");
        assertThat(MotionProbe.compare(bare, source, Work.QUIET).unmatched().toString())
                .contains("peg is only in the second");
    }

    @Test
    public void framesStandForAClipFromItsFirstToItsLast() {
        Clip clip = RandomAssets.of(8).clips().getFirst();
        double[] all = Moments.frames(clip, 10_000);
        double[] few = Moments.frames(clip, 5);
        assertThat(few)
                .hasSizeLessThanOrEqualTo(5)
                .isSorted()
                .startsWith(clip.start())
                .endsWith(clip.end());
        assertThat(all).isSorted().startsWith(clip.start()).endsWith(clip.end());
        double[] whole = Arrays.copyOf(all, all.length - 1);
        for (double t : whole) {
            assertThat((t - clip.start()) * clip.rate())
                    .isCloseTo(Math.rint((t - clip.start()) * clip.rate()), within(1e-9));
        }
        assertThat(Moments.frames(clip.withChannels(List.of()), 8)).isEmpty();
    }
}
