package org.cleanmarrow.weights;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Predicate;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.steps.skin.BindVolume;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Vector3i;
import org.testng.annotations.Test;

/** A trunk and an arm that hangs beside it, made of cubes of a decimetre: in one mesh, and cut where the arm begins. */
public class BodySurfaceTest {
    private static final float CUBE = 0.1f;
    /** Along x where the arm begins. */
    private static final int CUT = 4;

    private static final Map<String, float[]> JOINTS = new LinkedHashMap<>();

    static {
        JOINTS.put("hips", new float[] {0.2f, 0.15f, 0.15f});
        JOINTS.put("chest", new float[] {0.2f, 0.65f, 0.15f});
        JOINTS.put("shoulder", new float[] {0.35f, 0.9f, 0.15f});
        JOINTS.put("elbow", new float[] {0.65f, 0.85f, 0.15f});
        JOINTS.put("hand", new float[] {0.65f, 0.35f, 0.15f});
    }

    private static Set<Vector3i> cubes() {
        Set<Vector3i> out = new HashSet<>();
        for (int z = 0; z < 3; z++) {
            for (int y = 0; y < 10; y++) {
                for (int x = 0; x < CUT; x++) {
                    out.add(new Vector3i(x, y, z));
                }
            }
        }
        for (int z = 1; z < 2; z++) {
            out.add(new Vector3i(4, 8, z));
            out.add(new Vector3i(5, 8, z));
            for (int y = 0; y < 9; y++) {
                out.add(new Vector3i(6, y, z));
            }
        }
        return out;
    }

    /** The outer faces of some cubes. */
    private static Primitive faces(Set<Vector3i> all, Predicate<Vector3i> which) {
        int[][] axes = {{1, 0, 0}, {0, 1, 0}, {0, 0, 1}};
        Map<Vector3i, Integer> number = new LinkedHashMap<>();
        List<Integer> t = new ArrayList<>();
        for (Vector3i cube : all.stream()
                .filter(which)
                .sorted(Comparator.comparing((Vector3i c) -> c.x)
                        .thenComparing(c -> c.y)
                        .thenComparing(c -> c.z))
                .toList()) {
            for (int a = 0; a < 3; a++) {
                for (int up = 0; up < 2; up++) {
                    Vector3i step = new Vector3i(axes[a][0], axes[a][1], axes[a][2]).mul(up == 1 ? 1 : -1);
                    if (all.contains(new Vector3i(cube).add(step))) {
                        continue;
                    }
                    int[] u = axes[(a + 1) % 3];
                    int[] w = axes[(a + 2) % 3];
                    int[] corner = new int[4];
                    for (int c = 0; c < 4; c++) {
                        int i = c == 1 || c == 2 ? 1 : 0;
                        int j = c > 1 ? 1 : 0;
                        Vector3i at = new Vector3i(cube)
                                .add(axes[a][0] * up, axes[a][1] * up, axes[a][2] * up)
                                .add(u[0] * i + w[0] * j, u[1] * i + w[1] * j, u[2] * i + w[2] * j);
                        corner[c] = number.computeIfAbsent(at, k -> number.size());
                    }
                    int[] turn = up == 1 ? new int[] {0, 1, 2, 0, 2, 3} : new int[] {0, 2, 1, 0, 3, 2};
                    for (int c : turn) {
                        t.add(corner[c]);
                    }
                }
            }
        }
        float[] p = new float[number.size() * 3];
        number.forEach((at, n) -> {
            p[n * 3] = at.x * CUBE;
            p[n * 3 + 1] = at.y * CUBE;
            p[n * 3 + 2] = at.z * CUBE;
        });
        return Primitive.triangles(t.stream().mapToInt(i -> i).toArray(), p, null, -1);
    }

    /** @param bound whether the meshes have a skin already, with a weight that says nothing */
    private static Asset body(boolean bound, Primitive... parts) {
        List<Node> nodes = new ArrayList<>();
        Matrix4d[] binds = new Matrix4d[JOINTS.size()];
        int[] joints = new int[JOINTS.size()];
        float[] above = new float[3];
        for (Map.Entry<String, float[]> joint : JOINTS.entrySet()) {
            float[] at = joint.getValue();
            int n = nodes.size();
            joints[n] = n;
            binds[n] = new Matrix4d().translation(-at[0], -at[1], -at[2]);
            int[] below = n + 1 < JOINTS.size() ? new int[] {n + 1} : new int[0];
            Local local = Local.at(at[0] - above[0], at[1] - above[1], at[2] - above[2]);
            nodes.add(Node.group(joint.getKey(), local, below));
            above = at;
        }
        List<Mesh> meshes = new ArrayList<>();
        for (Primitive part : parts) {
            Influences.Builder rows = new Influences.Builder(part.vertexCount());
            for (int v = 0; v < part.vertexCount(); v++) {
                rows.add(0, 1);
                rows.endRow();
            }
            String name = meshes.isEmpty() ? "body" : "body_arm";
            nodes.add(Node.group(name, Local.IDENTITY).withMesh(meshes.size(), bound ? 0 : -1));
            meshes.add(Mesh.of(name, bound ? part.withInfluences(rows.build()) : part));
        }
        Skin skin = new Skin("", joints, Skin.pack(binds), -1, Passthrough.NONE);
        return Asset.of("body", Conventions.GLTF, nodes, meshes, List.of(skin), List.of());
    }

    private static Asset whole() {
        return body(true, faces(cubes(), c -> true));
    }

    private static Asset cut(boolean bound) {
        return body(bound, faces(cubes(), c -> c.x < CUT), faces(cubes(), c -> c.x >= CUT));
    }

    private static Asset bind(Asset asset, String mesh, boolean alone) throws Refused {
        return new BindVolume(mesh, VertexSet.ALL, "*", "", VolumeBind.How.HEAT, 0.5, 4, alone)
                .apply(asset, Work.QUIET)
                .asset();
    }

    /** The largest difference of a weight from that of the whole body at the same place. */
    private static double off(Asset bound, int mesh) throws Refused {
        Map<List<Float>, float[]> wanted = rows(bind(whole(), "body", false), 0);
        double most = 0;
        for (Map.Entry<List<Float>, float[]> row : rows(bound, mesh).entrySet()) {
            float[] other = wanted.get(row.getKey());
            for (int j = 0; j < other.length; j++) {
                most = Math.max(most, Math.abs(other[j] - row.getValue()[j]));
            }
        }
        return most;
    }

    private static Map<List<Float>, float[]> rows(Asset asset, int mesh) {
        Primitive p = asset.meshes().get(mesh).primitives().getFirst();
        Map<List<Float>, float[]> out = new HashMap<>();
        for (int v = 0; v < p.vertexCount(); v++) {
            float[] row = new float[JOINTS.size()];
            for (int j = 0; j < row.length; j++) {
                row[j] = p.influences().weight(v, j);
            }
            out.put(List.of(p.positions()[v * 3], p.positions()[v * 3 + 1], p.positions()[v * 3 + 2]), row);
        }
        return out;
    }

    @Test
    public void anArmInAMeshOfItsOwnIsBoundAsPartOfTheBody() throws Refused {
        Asset arm = bind(cut(true), "body_arm", false);
        assertThat(off(arm, 1)).isLessThan(1e-4);
        // All that is named at once, which had no skin before.
        Asset both = bind(cut(false), "body*", false);
        assertThat(off(both, 0)).isLessThan(1e-4);
        assertThat(off(both, 1)).isLessThan(1e-4);
        // By its own volume it takes hips and chest, which lie in the other mesh, for its own.
        assertThat(off(bind(cut(true), "body_arm", true), 1)).isGreaterThan(0.2);
        float[] below = rows(arm, 1).get(List.of(6 * CUBE, CUBE, CUBE));
        assertThat(below[0] + below[1]).as("hips and chest").isLessThan(0.01f);
    }

    @Test
    public void verticesAreChosenOfOneMeshAlone() {
        BitSet some = new BitSet();
        some.set(3);
        assertThatThrownBy(() -> new BindVolume(
                                "body*", VertexSet.numbers(some), "*", "", VolumeBind.How.HEAT, 0.5, 4, false)
                        .apply(cut(true), Work.QUIET))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("body*");
    }
}
