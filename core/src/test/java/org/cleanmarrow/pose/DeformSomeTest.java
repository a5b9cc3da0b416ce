package org.cleanmarrow.pose;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Random;
import java.util.stream.IntStream;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Skin;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.testng.annotations.Test;

public class DeformSomeTest {
    /** Some vertices are where all vertices are. */
    @Test
    public void someVerticesAreWhereTheyAreAmongAll() {
        for (long seed = 1; seed < 14; seed++) {
            Asset asset = RandomAssets.of(seed);
            Rig rig = new Rig(asset);
            Deformer deformer = new Deformer(asset);
            Random random = new Random(seed);
            for (Clip clip : asset.clips()) {
                Pose pose = rig.at(clip, clip.start() + 0.37 * clip.seconds());
                Matrix4d[] world = pose.world();
                for (MeshPlace place : deformer.places()) {
                    int count = deformer.vertexCount(place);
                    float[] all = new float[count * 3];
                    deformer.deform(place, pose, world, new Matrix4d(), all, null, false);
                    int[] some = IntStream.range(0, count)
                            .filter(v -> random.nextInt(3) == 0)
                            .toArray();
                    float[] out = new float[some.length * 3];
                    deformer.deformSome(place, pose, world, new Matrix4d(), some, out);
                    for (int i = 0; i < some.length; i++) {
                        for (int d = 0; d < 3; d++) {
                            assertThat(out[i * 3 + d]).isEqualTo(all[some[i] * 3 + d]);
                        }
                    }
                }
            }
        }
    }

    /** The equation of glTF 2.0, 3.7.3.3, written out in double, against the kernels for few and for many joints. */
    @Test
    public void bothKernelsFollowTheStandardsEquation() {
        Random random = new Random(5);
        for (int most : new int[] {4, 9}) {
            Influences.Builder builder = new Influences.Builder(200);
            for (int v = 0; v < 200; v++) {
                for (int i = 0; i < 1 + random.nextInt(most); i++) {
                    builder.add(random.nextInt(12), random.nextFloat());
                }
                builder.endRow();
            }
            Influences rows = builder.build();
            Matrix4d[] world = new Matrix4d[12];
            int[] joints = new int[12];
            Matrix4d[] binds = new Matrix4d[12];
            for (int j = 0; j < 12; j++) {
                joints[j] = j;
                world[j] = new Matrix4d()
                        .translate(random.nextGaussian(), random.nextGaussian(), random.nextGaussian())
                        .rotateXYZ(random.nextDouble(), random.nextDouble(), random.nextDouble())
                        .scale(0.5 + random.nextDouble());
                binds[j] = new Matrix4d()
                        .rotateXYZ(random.nextDouble(), random.nextDouble(), random.nextDouble())
                        .translate(random.nextGaussian(), random.nextGaussian(), random.nextGaussian());
            }
            Skin skin = new Skin("s", joints, Skin.pack(binds), -1, org.cleanmarrow.model.Passthrough.NONE);
            float[] p = new float[600];
            for (int i = 0; i < p.length; i++) {
                p[i] = (float) random.nextGaussian();
            }
            float[] out = new float[600];
            new LinearSkinning(rows)
                    .skin(p, null, Deformer.jointMatrices(skin, world, new Matrix4d()), 0, 200, out, null);
            for (int v = 0; v < 200; v++) {
                Vector3d sum = new Vector3d();
                for (int i = rows.offsets()[v]; i < rows.offsets()[v + 1]; i++) {
                    Vector3d moved = new Matrix4d(world[rows.joints()[i]])
                            .mul(skin.inverseBind(rows.joints()[i]))
                            .transformPosition(new Vector3d(p[v * 3], p[v * 3 + 1], p[v * 3 + 2]));
                    sum.fma(rows.weights()[i], moved);
                }
                assertThat(sum.distance(out[v * 3], out[v * 3 + 1], out[v * 3 + 2]))
                        .isLessThan(1e-5 * (1 + sum.length()));
            }
        }
    }

    @Test
    public void rowsAreCopiedInSpansBitForBit() {
        Asset asset = RandomAssets.of(7);
        Primitive p = asset.meshes().getFirst().primitives().getFirst();
        Influences rows = p.influences();
        Influences.Builder builder = new Influences.Builder(rows.vertexCount());
        builder.copyRows(rows, 0, 5);
        builder.copyRows(rows, 5, 5);
        builder.copyRows(rows, 5, rows.vertexCount());
        Influences copy = builder.build();
        assertThat(copy.offsets()).isEqualTo(rows.offsets());
        assertThat(copy.joints()).isEqualTo(rows.joints());
        assertThat(copy.weights()).isEqualTo(rows.weights());
        for (int v = 0; v < rows.vertexCount(); v++) {
            assertThat(rows.sameRow(copy, v)).isTrue();
        }
        Influences.Builder other = new Influences.Builder(rows.vertexCount());
        other.copyRows(rows, 0, 3);
        other.add(0, 0.123f);
        other.endRow();
        other.copyRows(rows, 4, rows.vertexCount());
        Influences changed = other.build();
        assertThat(IntStream.range(0, rows.vertexCount())
                        .filter(v -> !rows.sameRow(changed, v))
                        .toArray())
                .containsExactly(3);
    }
}
