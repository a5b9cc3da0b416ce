package org.cleanmarrow.ledger;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Conversion;
import org.cleanmarrow.join.Join;
import org.cleanmarrow.kit.Marker;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.measure.Motion;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attached;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.RestBox;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.steps.intake.MarkForExport;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.testng.annotations.Test;

/**
 * The asset is open: a kind of thing that no step knows, for it exists in this test alone, goes through every step. It
 * stays at its node, and where nothing should move it stays in its place, at rest and in every clip.
 */
public class AttachedTest {
    private static Asset marked(Asset asset, int every) {
        List<Attached> markers = new ArrayList<>();
        for (int n = 0; n < asset.nodes().size(); n += every) {
            markers.add(new Marker(
                    "marker " + asset.nodes().get(n).name(), n, new float[] {0, 0, 0, 0.2f, -0.1f, 0.3f, 0, 0.5f, 0}));
        }
        return asset.withAttached(markers);
    }

    /** Places of all points in metres and glTF's axes. */
    private static List<Vector3d> places(Asset asset, Marker marker, Pose pose) {
        Matrix4d at = Conversion.between(asset.conventions(), Conventions.GLTF)
                .matrix()
                .mul(pose.world()[marker.node()]);
        List<Vector3d> out = new ArrayList<>();
        for (int i = 0; i < marker.points().length; i += 3) {
            out.add(at.transformPosition(
                    new Vector3d(marker.points()[i], marker.points()[i + 1], marker.points()[i + 2])));
        }
        return out;
    }

    private static Marker named(Asset asset, String name) {
        return asset.attached().stream()
                .filter(a -> a.name().equals(name))
                .map(Marker.class::cast)
                .findFirst()
                .orElse(null);
    }

    private static List<String> strayed(String step, Asset before, Asset after, double tolerance) {
        List<String> out = new ArrayList<>();
        Rig was = new Rig(before);
        Rig is = new Rig(after);
        for (Attached a : before.attached()) {
            if (!(a instanceof Marker marker)) {
                continue;
            }
            Marker twin = named(after, marker.name());
            if (twin == null) {
                out.add(step + " lost " + marker.name());
                continue;
            }
            List<Pose[]> poses = new ArrayList<>();
            poses.add(new Pose[] {was.rest(), is.rest()});
            for (int c = 0; c < before.clips().size() && c < after.clips().size(); c++) {
                Clip clip = before.clips().get(c);
                Clip now = after.clips().get(c);
                if (clip.name().equals(now.name()) && clip.start() == now.start() && clip.end() == now.end()) {
                    double middle = clip.start() + 0.37 * clip.seconds();
                    poses.add(new Pose[] {was.at(clip, middle), is.at(now, middle)});
                }
            }
            for (Pose[] pose : poses) {
                List<Vector3d> there = places(before, marker, pose[0]);
                List<Vector3d> here = places(after, twin, pose[1]);
                for (int i = 0; i < there.size(); i++) {
                    if (!(there.get(i).distance(here.get(i)) <= tolerance)) {
                        out.add(step + " moved " + marker.name() + " by "
                                + there.get(i).distance(here.get(i)));
                    }
                }
            }
        }
        return out;
    }

    @Test
    public void aKindThatNoStepKnowsGoesThroughEveryStep() {
        Set<String> still = new TreeSet<>();
        List<String> wrong = new ArrayList<>();
        Asset source = marked(RandomAssets.of(8), 2);
        Asset now = source;
        for (Step step : LedgerTest.oneOfEach()) {
            // From the source, and in the midst of a ledger.
            for (Asset before : List.of(source, now)) {
                Replay.Done done = Replay.one(before, step, false, Work.QUIET);
                if (done.outcome().isEmpty()) {
                    continue;
                }
                Asset after = done.asset();
                String what = step.getClass().getSimpleName();
                List<String> strayed = strayed(what, before, after, 2e-5 * size(before));
                // Where nothing strayed it is enough to have seen once, in some clips, that the step moves nothing.
                boolean stays = strayed.isEmpty()
                        ? !still.contains(what) && !moves(few(before), few(after))
                        : !moves(before, after);
                if (stays) {
                    still.add(what);
                    wrong.addAll(strayed);
                }
                for (Attached a : after.attached()) {
                    assertThat(a.node()).as(what).isBetween(0, after.nodes().size() - 1);
                }
                now = before == now ? after : now;
            }
        }
        assertThat(wrong).isEmpty();
        assertThat(still).contains("Convert", "FreezeNodes", "OrientJoints", "TrimIdle", "MatchSkeleton", "SetPivot");
        assertThat(still).hasSizeGreaterThan(40);
    }

    private static Asset few(Asset asset) {
        return asset.withClips(
                asset.clips().subList(0, Math.min(3, asset.clips().size())));
    }

    private static boolean moves(Asset before, Asset after) {
        Motion motion = MotionProbe.compare(before, after, Work.QUIET);
        return Math.max(motion.largestMetres(), motion.jointsMetres()) > 2 * motion.toleranceMetres();
    }

    private static double size(Asset asset) {
        return RestBox.of(asset).diagonal() * asset.conventions().metresPerUnit();
    }

    @Test
    public void whatStaysBehindTakesItsThingsAlongAndWhatIsJoinedBringsThem() throws Refused {
        Asset source = marked(RandomAssets.of(8), 1);
        Asset shipped = org.cleanmarrow.query.Shipping.of(
                new MarkForExport(MarkForExport.Kind.PART, "crate*", Optional.empty(), false)
                        .apply(source, Work.QUIET)
                        .asset());
        for (Attached a : shipped.attached()) {
            assertThat("marker " + shipped.nodes().get(a.node()).name()).isEqualTo(a.name());
        }
        assertThat(shipped.attached())
                .hasSizeLessThan(source.attached().size())
                .noneMatch(a -> a.name().startsWith("marker crate"));
        Asset joined = Join.of(source.withAttached(List.of()), source, Work.QUIET);
        assertThat(joined.attached()).hasSameSizeAs(source.attached());
        for (Attached a : joined.attached()) {
            assertThat("marker " + joined.nodes().get(a.node()).name()).isEqualTo(a.name());
        }
    }
}
