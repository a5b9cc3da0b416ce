package org.cleanmarrow.demo;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CancellationException;
import org.cleanmarrow.demo.ferry.DeckBoots;
import org.cleanmarrow.demo.ferry.VestedPilot;
import org.cleanmarrow.edit.Binding;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.geometry.PointTree;
import org.cleanmarrow.kit.Witness;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.roles.Role;
import org.cleanmarrow.roles.Roles;
import org.cleanmarrow.steps.scale.MirrorPart;
import org.cleanmarrow.steps.scale.TurnAndFold;
import org.cleanmarrow.steps.skin.LimitInfluences;
import org.cleanmarrow.steps.skin.SmoothWeights;
import org.cleanmarrow.steps.skin.TransferWeights;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.trial.TrialPose;
import org.cleanmarrow.trial.TrialPoses;
import org.cleanmarrow.weights.RestSurface;
import org.cleanmarrow.weights.WeldedWeights;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;
import org.joml.Vector3d;
import org.testng.annotations.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * Parts worn on a body, weighted and posed, measured by {@code tools/reference/worn.py}: NumPy and SciPy on the files,
 * beside the plain ways in the same run.
 */
public class WornTest {
    private static final boolean ALL = !System.getProperty("marrow.worn", "").isEmpty();

    /** The pilot in the vest, made once for all tests. */
    static final class Dressed {
        static final Change CHANGE = make();

        private Dressed() {}

        private static Change make() {
            try {
                return new TransferWeights("pilot", "float_vest").apply(VestedPilot.asset(), Work.QUIET);
            } catch (Refused e) {
                throw new IllegalStateException(e);
            }
        }
    }

    /** The plain way: each place takes the row of the body's place nearest to it. */
    private static Asset nearestCopy(Asset asset, String body, String worn) throws Refused {
        int giver = asset.findMesh(body);
        int m = asset.findMesh(worn);
        Asset bound = Binding.toSkin(asset, m, asset.skinOfMesh(giver));
        WeldedSurface to = RestSurface.of(bound, m);
        WeldedSurface on = RestSurface.of(bound, giver);
        Influences from = WeldedWeights.of(bound.meshes().get(giver), on);
        PointTree tree = new PointTree(on.positions());
        Mesh mesh = bound.meshes().get(m);
        List<Primitive> primitives = new ArrayList<>();
        int first = 0;
        for (Primitive primitive : mesh.primitives()) {
            Influences.Builder out = new Influences.Builder(primitive.vertexCount());
            for (int v = 0; v < primitive.vertexCount(); v++) {
                int p = to.weldedOf(first + v) * 3;
                int near = tree.nearest(to.positions()[p], to.positions()[p + 1], to.positions()[p + 2]);
                out.copyRows(from, near, near + 1);
            }
            primitives.add(primitive.withInfluences(out.build()));
            first += primitive.vertexCount();
        }
        return bound.withMesh(m, mesh.withPrimitives(primitives));
    }

    private static Asset done(Asset asset, Step step) throws Refused {
        return step.apply(asset, Work.QUIET).asset();
    }

    /** The asset with its trial poses for clips; for boots, since those leave feet and toes as they are, with these bent. */
    private static Asset posed(Asset asset, String part) {
        List<Clip> clips = new ArrayList<>();
        boolean boot = part.startsWith("deck_boot");
        if (!boot || ALL) {
            TrialPoses.of(asset).forEach(pose -> clips.add(pose.clip(asset)));
        }
        Map<Role, Integer> roles = Roles.known(asset);
        String side = part.endsWith("left") ? "LEFT_" : "RIGHT_";
        for (Role role : boot ? List.of(Role.valueOf(side + "FOOT"), Role.valueOf(side + "TOES")) : List.<Role>of()) {
            for (int turn = 0; roles.containsKey(role) && turn < 6; turn++) {
                TrialPose bent = TrialPoses.sweep(asset, roles.get(role), turn / 2, 0, turn % 2 == 0 ? -25 : 25);
                clips.add(
                        TrialPose.to(role + " " + turn, bent.stops().getLast()).clip(asset));
            }
        }
        return asset.withClips(clips);
    }

    /** The asset with a part scaled about its middle and its surface moved outward, in the asset's unit. */
    private static Asset reshaped(Asset asset, String part, double scale, double outward) {
        int m = asset.findMesh(part);
        Mesh mesh = asset.meshes().get(m);
        Primitive only = mesh.primitives().getFirst();
        float[] moved = only.positions().clone();
        Box box = Box.empty();
        box.grow(moved);
        Vector3d centre = box.centre();
        // Away from the upright axis through the middle.
        for (int v = 0; v < mesh.vertexCount(); v++) {
            double wide = Math.hypot(moved[v * 3] - centre.x, moved[v * 3 + 2] - centre.z);
            for (int k = 0; k < 3; k++) {
                double from = centre.get(k);
                double aside = k == 1 ? 0 : outward * (moved[v * 3 + k] - from) / wide;
                moved[v * 3 + k] = (float) (from + scale * (moved[v * 3 + k] - from) + aside);
            }
        }
        return asset.withMesh(
                m, mesh.withPrimitives(List.of(only.withShape(moved, only.normals(), only.tangents(), List.of()))));
    }

    private static Asset bare(Asset asset, String part) {
        int m = asset.findMesh(part);
        Mesh mesh = asset.meshes().get(m);
        return asset.withMesh(
                m,
                mesh.withPrimitives(mesh.primitives().stream()
                        .map(p -> p.withInfluences(
                                new Influences(new int[p.vertexCount() + 1], new int[0], new float[0])))
                        .toList()));
    }

    private static JsonNode measured(Map<String, Asset> worn, String body, String part) throws Exception {
        Path folder = Files.createTempDirectory("worn");
        List<Map<String, Object>> list = new ArrayList<>();
        for (Map.Entry<String, Asset> e : worn.entrySet()) {
            Path file = folder.resolve(list.size() + ".glb");
            Files.write(file, GltfWriter.glb(posed(e.getValue(), part)));
            list.add(Map.of(
                    "name",
                    e.getKey(),
                    "file",
                    file.toString(),
                    "body",
                    body,
                    "worn",
                    part,
                    "nearest",
                    part.startsWith("deck_boot")));
        }
        Path json = folder.resolve("list.json");
        Files.writeString(json, JsonMapper.shared().writeValueAsString(list));
        return JsonMapper.shared().readTree(Witness.python("worn.py", json.toString()));
    }

    /** Figures by name, printed as they are found. */
    private static Map<String, JsonNode> figures(Map<String, Asset> worn, String part) throws Exception {
        Map<String, JsonNode> out = new LinkedHashMap<>();
        for (JsonNode found : measured(worn, "pilot", part)) {
            out.put(found.get("name").asString(), found);
            System.out.printf(
                    "worn, %s %s: stretch %.2f, most %.1f, over 1.5 %.2f %%, deep %.1f a pose, thickness %.1f %%, other side %d%n",
                    part,
                    found.get("name").asString(),
                    found.get("stretch").asDouble(),
                    found.get("most").asDouble(),
                    100 * found.get("long").asDouble(),
                    found.get("deep").asDouble(),
                    100 * found.get("thickness").asDouble(),
                    found.get("other").asInt());
        }
        return out;
    }

    /** With {@code -Dmarrow.worn=all} also the other plain ways, other vests, other trades and no more than four joints. */
    @Test
    public void theVestIsGoodAtEverythingWithDefaultsAlone() throws Exception {
        Asset pilot = VestedPilot.asset();
        Asset near = nearestCopy(pilot, "pilot", "float_vest");
        Map<String, Asset> all = new LinkedHashMap<>();
        all.put("found", Dressed.CHANGE.asset());
        all.put("nearest", near);
        if (ALL) {
            all.put("smoothed", done(near, new SmoothWeights("float_vest", VertexSet.ALL, 1, 100, "", 8)));
            all.put(
                    "inpainted",
                    done(pilot, new TransferWeights("pilot", "float_vest", VertexSet.ALL, 0, 30, false, "*", 8)));
            all.put(
                    "four",
                    done(pilot, new TransferWeights("pilot", "float_vest", VertexSet.ALL, 0, 0, false, "*", 4)));
            Map<String, Asset> vests = Map.of(
                    "larger", reshaped(pilot, "float_vest", 1.1, 0), "farther", reshaped(pilot, "float_vest", 1, 0.02));
            for (var e : vests.entrySet()) {
                all.put(e.getKey(), done(e.getValue(), new TransferWeights("pilot", "float_vest")));
                all.put(e.getKey() + ", nearest", nearestCopy(e.getValue(), "pilot", "float_vest"));
            }
            for (double trade : new double[] {0, 0.25, 0.75, 1}) {
                all.put("trade " + trade, done(pilot, traded(trade)));
            }
            for (LimitInfluences.By by : LimitInfluences.By.values()) {
                all.put("four " + by, done(Dressed.CHANGE.asset(), new LimitInfluences("float_vest", 4, 0, by)));
            }
        }
        Map<String, JsonNode> figures = figures(all, "float_vest");
        JsonNode ours = figures.get("found");
        assertThat(ours.get("deep").asDouble()).isLessThanOrEqualTo(25);
        assertThat(ours.get("long").asDouble()).isLessThanOrEqualTo(0.03);
        assertThat(ours.get("stretch").asDouble()).isLessThanOrEqualTo(2.2);
        assertThat(ours.get("thickness").asDouble()).isLessThanOrEqualTo(0.04);
        assertThat(ours.get("other").asInt()).isZero();
        JsonNode plain = figures.get("nearest");
        for (String figure : List.of("deep", "long", "stretch", "thickness")) {
            assertThat(ours.get(figure).asDouble())
                    .as(figure)
                    .isLessThan(plain.get(figure).asDouble());
        }
        assertThat(Dressed.CHANGE.notes().toString())
                .contains("neck, torso, left-upper-arm, right-upper-arm", "14 trial poses");
    }

    private static TransferWeights traded(double trade) {
        return new TransferWeights(
                "pilot", "float_vest", VertexSet.ALL, 0, 0, false, "*", 8, VertexSet.ALL, "", true, trade);
    }

    @Test
    public void theCapeHangsFromNeckAndTorsoAlone() throws Exception {
        Asset bare = bare(VestedPilot.asset(), "cape");
        Change change = new TransferWeights("pilot", "cape").apply(bare, Work.QUIET);
        assertThat(change.notes().toString()).contains("worn on: neck, torso.");
        Map<String, Asset> all = new LinkedHashMap<>();
        all.put("found", change.asset());
        all.put("nearest", nearestCopy(bare, "pilot", "cape"));
        Map<String, JsonNode> figures = figures(all, "cape");
        for (String figure : List.of("deep", "long", "stretch", "thickness", "other")) {
            assertThat(figures.get("found").get(figure).asDouble())
                    .as(figure)
                    .isLessThan(figures.get("nearest").get(figure).asDouble());
        }
        assertThat(figures.get("found").get("stretch").asDouble()).isLessThan(2.3);
        assertThat(figures.get("found").get("long").asDouble()).isLessThan(0.03);
    }

    /** Boots over the pilot's own, turned upright and mirrored as by hand; with {@code -Dmarrow.worn=all} as fine as the demo has them. */
    @Test
    public void bootsFollowFootAndShin() throws Exception {
        Path folder = Files.createTempDirectory("boots");
        Path pilot = Files.write(
                folder.resolve("pilot.glb"), GltfWriter.glb(VestedPilot.asset().withClips(List.of())));
        Path file = Files.write(folder.resolve("boots.obj"), ALL ? DeckBoots.obj() : DeckBoots.obj(0.009));
        Asset both = AssetFiles.open(List.of(pilot, file), Work.QUIET).asset();
        Asset turned = done(both, new TurnAndFold(TurnAndFold.About.Z, 90, Optional.of(DeckBoots.LEFT)));
        Asset bare = done(turned, new MirrorPart(DeckBoots.LEFT, MirrorPart.Across.SIDE));
        Asset worn = bare;
        long start = System.nanoTime();
        List<String> boots = ALL ? List.of(DeckBoots.LEFT, "deck_boot_right") : List.of("deck_boot_right");
        for (String boot : boots) {
            worn = done(worn, new TransferWeights("pilot", boot));
        }
        System.out.printf("boots: %.1f s%n", (System.nanoTime() - start) / 1e9);
        for (String boot : boots) {
            Map<String, Asset> all = new LinkedHashMap<>();
            all.put("found", worn);
            all.put("nearest", nearestCopy(bare, "pilot", boot));
            Map<String, JsonNode> figures = figures(all, boot);
            for (String figure : List.of("deep", "long", "stretch", "thickness", "other")) {
                assertThat(figures.get("found").get(figure).asDouble())
                        .as(figure)
                        .isLessThanOrEqualTo(figures.get("nearest").get(figure).asDouble());
            }
            assertThat(figures.get("found").get("stretch").asDouble()).isLessThanOrEqualTo(2.2);
            assertThat(figures.get("found").get("long").asDouble()).isLessThanOrEqualTo(0.03);
            assertThat(figures.get("found").get("deep").asDouble()).isLessThanOrEqualTo(25);
            assertThat(figures.get("found").get("other").asInt()).isZero();
        }
    }

    /** Said by hand what it is worn on, and without the repair, a cape hangs from the head alone and says nothing of poses. */
    @Test
    public void whatItIsWornOnCanBeSaid() throws Refused {
        Asset bare = bare(VestedPilot.asset(), "cape");
        Change change = new TransferWeights(
                        "pilot", "cape", VertexSet.ALL, 0, 0, false, "*", 8, VertexSet.ALL, "head", false, 0.5)
                .apply(bare, Work.QUIET);
        assertThat(change.notes().toString()).contains("worn on: head.").doesNotContain("trial poses");
        Asset hung = change.asset();
        int m = hung.findMesh("cape");
        Influences rows = hung.meshes().get(m).primitives().getFirst().influences();
        int[] joints = hung.skins().get(hung.skinOfMesh(m)).joints();
        for (int v = 0; v < rows.vertexCount(); v++) {
            double head = 0;
            for (int i = rows.offsets()[v]; i < rows.offsets()[v + 1]; i++) {
                String joint = hung.nodes().get(joints[rows.joints()[i]]).name();
                head += joint.matches("head|neck|scarf_tail") ? rows.weights()[i] : 0;
            }
            assertThat(head).isGreaterThan(0.5);
        }
    }

    @Test
    public void whatCannotBeIsSaid() {
        Asset pilot = VestedPilot.asset();
        assertThatThrownBy(() -> done(
                        pilot,
                        new TransferWeights(
                                "pilot",
                                "float_vest",
                                VertexSet.ALL,
                                0,
                                0,
                                false,
                                "*",
                                8,
                                VertexSet.ALL,
                                "tail",
                                true,
                                0.5)))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("tail")
                .hasMessageContaining("left-upper-arm");
        // No joint comes along, so there is nothing to take.
        assertThatThrownBy(() -> done(
                        pilot, new TransferWeights("pilot", "float_vest", VertexSet.ALL, 0, 0, false, "no such", 8)))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("Nothing of pilot");
        assertThatThrownBy(() -> done(pilot, traded(1.5)))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("1.5");
    }

    /** Cancelled while it works, nothing comes of it. */
    @Test
    public void itCanBeCancelled() {
        int[] asked = {0};
        Work cancelled = new Work() {
            @Override
            public void at(double share, String doing) {
                asked[0]++;
            }

            @Override
            public boolean cancelled() {
                return asked[0] > 0;
            }
        };
        assertThatThrownBy(() -> new TransferWeights("pilot", "float_vest").apply(VestedPilot.asset(), cancelled))
                .isInstanceOf(CancellationException.class);
    }
}
