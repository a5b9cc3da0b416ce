package org.cleanmarrow.demo;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.demo.pilot.FerryPilot;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.steps.skeleton.TPose;
import org.cleanmarrow.steps.skin.BindVolume;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.surface.Subset;
import org.cleanmarrow.weights.VolumeBind;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;
import org.testng.annotations.Test;

/** A body that comes cut into meshes: trunk, arms and legs. */
public class SplitBodyTest {
    private static final List<String> PARTS = List.of("pilot", "left_arm", "right_arm", "left_leg", "right_leg");

    private static int limb(String joint) {
        int side = joint.startsWith("left") ? 0 : 1;
        if (joint.matches("(left|right)_(thigh|shin|foot|toes).*")) {
            return 3 + side;
        }
        return joint.matches("(left|right)_(upper_arm|arm_twist|forearm|hand|thumb|index|middle|ring|little).*")
                ? 1 + side
                : 0;
    }

    /** The pilot with his body in five meshes on one skin; each triangle with the limb that most of its weight is of. */
    private static Asset split(Asset pilot) {
        int number = pilot.findMesh("pilot");
        Mesh whole = pilot.meshes().get(number);
        Skin skin = pilot.skins().get(pilot.skinOfMesh(number));
        List<List<Primitive>> parts = new ArrayList<>();
        PARTS.forEach(p -> parts.add(new ArrayList<>()));
        for (Primitive p : whole.primitives()) {
            int[] corners = p.indices();
            List<List<Integer>> own = new ArrayList<>();
            PARTS.forEach(x -> own.add(new ArrayList<>()));
            for (int t = 0; t < corners.length; t += 3) {
                double[] shares = new double[PARTS.size()];
                for (int c = t; c < t + 3; c++) {
                    Influences rows = p.influences();
                    for (int i = rows.offsets()[corners[c]]; i < rows.offsets()[corners[c] + 1]; i++) {
                        String joint = pilot.nodes()
                                .get(skin.joints()[rows.joints()[i]])
                                .name();
                        shares[limb(joint)] += rows.weights()[i];
                    }
                }
                int most = 0;
                for (int k = 1; k < shares.length; k++) {
                    most = shares[k] > shares[most] ? k : most;
                }
                own.get(most).addAll(List.of(corners[t], corners[t + 1], corners[t + 2]));
            }
            for (int k = 0; k < PARTS.size(); k++) {
                if (!own.get(k).isEmpty()) {
                    parts.get(k)
                            .add(Subset.ofTriangles(
                                    p, own.get(k).stream().mapToInt(i -> i).toArray()));
                }
            }
        }
        List<Mesh> meshes = new ArrayList<>(pilot.meshes());
        List<Node> nodes = new ArrayList<>(pilot.nodes());
        meshes.set(number, whole.withPrimitives(parts.getFirst()));
        for (int k = 1; k < PARTS.size(); k++) {
            nodes.add(Node.group(PARTS.get(k), Local.IDENTITY).withMesh(meshes.size(), pilot.skinOfMesh(number)));
            meshes.add(whole.withName(PARTS.get(k)).withPrimitives(parts.get(k)));
        }
        return pilot.withNodes(nodes).withMeshes(meshes);
    }

    /** Rows by place at rest, as dense as joints are. */
    private static Map<List<Float>, float[]> rows(Asset asset, String mesh) {
        Mesh of = asset.meshes().get(asset.findMesh(mesh));
        float[] p = MeshTopology.restPositions(of);
        int joints = asset.skins().getFirst().joints().length;
        Map<List<Float>, float[]> out = new HashMap<>();
        int v = 0;
        for (Primitive part : of.primitives()) {
            Influences rows = part.influences();
            for (int i = 0; i < part.vertexCount(); i++, v++) {
                float[] row = new float[joints];
                for (int e = rows.offsets()[i]; e < rows.offsets()[i + 1]; e++) {
                    row[rows.joints()[e]] += rows.weights()[e];
                }
                out.put(List.of(p[v * 3], p[v * 3 + 1], p[v * 3 + 2]), row);
            }
        }
        return out;
    }

    /** Share of an arm's weight on joints of another limb, or of the hips. */
    private static double wrong(Asset asset, int part) {
        Skin skin = asset.skins().getFirst();
        double wrong = 0;
        double all = 0;
        for (float[] row : rows(asset, PARTS.get(part)).values()) {
            for (int j = 0; j < row.length; j++) {
                String joint = asset.nodes().get(skin.joints()[j]).name();
                boolean right = limb(joint) == part || limb(joint) == 0 && !joint.matches("hips|root");
                wrong += right ? 0 : row[j];
                all += row[j];
            }
        }
        return wrong / all;
    }

    @Test
    public void eachMeshIsBoundAsInTheWholeBody() throws Refused {
        Asset pilot = new TPose(75).apply(FerryPilot.asset(), Work.QUIET).asset();
        Asset split = split(pilot);
        Map<List<Float>, float[]> wanted = rows(bound(pilot, "pilot", false), "pilot");
        Asset together = bound(split, String.join(",", PARTS), false);
        int places = 0;
        int off = 0;
        for (String part : PARTS) {
            for (Map.Entry<List<Float>, float[]> row : rows(together, part).entrySet()) {
                places++;
                off += apart(wanted.get(row.getKey()), row.getValue()) > 0.01 ? 1 : 0;
            }
        }
        // The others count though they are not bound.
        Map<List<Float>, float[]> arm = rows(bound(split, "left_arm", false), "left_arm");
        rows(together, "left_arm")
                .forEach((place, row) -> assertThat(apart(arm.get(place), row)).isLessThan(1e-3));
        Asset alone = bound(split, "left_arm", true);
        int far = 0;
        for (Map.Entry<List<Float>, float[]> row : rows(alone, "left_arm").entrySet()) {
            far += apart(wanted.get(row.getKey()), row.getValue()) > 0.01 ? 1 : 0;
        }
        System.out.printf(
                "%d of %d places off by 0.01, by its own volume %d of the arm's %d; of hips and other limbs %.4f"
                        + " %%, by its own volume %.4f %%%n",
                off, places, far, arm.size(), 100 * wrong(together, 1), 100 * wrong(alone, 1));
        assertThat(off).isLessThan(places / 100);
        assertThat(far).isGreaterThan(arm.size() / 20);
        assertThat(wrong(together, 1)).isLessThan(0.001);
    }

    private static double apart(float[] a, float[] b) {
        double most = 0;
        for (int j = 0; j < a.length; j++) {
            most = Math.max(most, Math.abs(a[j] - b[j]));
        }
        return most;
    }

    private static Asset bound(Asset asset, String mesh, boolean alone) throws Refused {
        return new BindVolume(mesh, VertexSet.ALL, "*", "", VolumeBind.How.HEAT, 0.5, 4, alone)
                .apply(asset, Work.QUIET)
                .asset();
    }

    @Test
    public void verticesAreChosenOfOneMeshAlone() {
        BitSet some = new BitSet();
        some.set(3);
        assertThatThrownBy(() -> new BindVolume(
                                "left_*", VertexSet.numbers(some), "*", "", VolumeBind.How.HEAT, 0.5, 4, false)
                        .apply(split(FerryPilot.asset()), Work.QUIET))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("left_*");
    }
}
