package org.cleanmarrow.pose;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.MorphTarget;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Skin;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.testng.annotations.Test;

/** Linear skinning against the equation of glTF 2.0, section 3.7.3.3, evaluated plainly in double. */
public class SkinningTest {
    private static Influences rows(float[]... weights) {
        Influences.Builder builder = new Influences.Builder(weights.length);
        for (float[] row : weights) {
            for (int j = 0; j < row.length; j++) {
                builder.add(j, row[j]);
            }
            builder.endRow();
        }
        return builder.build();
    }

    /** Half and half between two joints is the mean of where each would take it (common practice, and the equation). */
    @Test
    public void halfAndHalfIsTheMean() {
        float[] matrices = new float[24];
        matrices[0] = matrices[5] = matrices[10] = matrices[12] = matrices[17] = matrices[22] = 1;
        matrices[3] = 4;
        matrices[12 + 7] = 6;
        float[] out = new float[9];
        float[] p = {1, 2, 3, 1, 2, 3, 1, 2, 3};
        new LinearSkinning(rows(new float[] {0.5f, 0.5f}, new float[] {1, 0}, new float[] {0, 1}))
                .skin(p, null, matrices, 0, 3, out, null);
        assertThat(out).containsExactly(3, 5, 3, 5, 2, 3, 1, 8, 3);
    }

    @Test
    public void weightsAreTakenAsTheyAre() {
        float[] unit = {1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0};
        float[] out = new float[6];
        new LinearSkinning(rows(new float[] {0.75f}, new float[] {}))
                .skin(new float[] {4, 8, 12, 4, 8, 12}, null, unit, 0, 2, out, null);
        assertThat(out).containsExactly(3, 6, 9, 0, 0, 0);
    }

    @Test
    public void everyRowLengthAgreesWithThePlainEquation() {
        for (int seed = 0; seed < 12; seed++) {
            agrees(RandomAssets.of(seed));
            agrees(withLongRows(RandomAssets.of(seed, 12, 60)));
        }
    }

    private static Asset withLongRows(Asset asset) {
        Primitive p = asset.meshes().getFirst().primitives().getFirst();
        Influences.Builder builder = new Influences.Builder(p.vertexCount());
        for (int v = 0; v < p.vertexCount(); v++) {
            for (int j = 0; j < 2 + v % 9; j++) {
                builder.add((v + j) % 12, 1f / (2 + v % 9));
            }
            builder.endRow();
        }
        return asset.withMesh(
                0, asset.meshes().getFirst().withPrimitives(java.util.List.of(p.withInfluences(builder.build()))));
    }

    private static void agrees(Asset asset) {
        Rig rig = new Rig(asset);
        Deformer deformer = new Deformer(asset);
        Clip clip = asset.clips().get(1);
        Pose pose = rig.at(clip, clip.start() + 0.21);
        MeshPlace figure = deformer.places().stream()
                .filter(p -> p.skin() >= 0)
                .findFirst()
                .orElseThrow();
        Matrix4d[] world = pose.world();
        int count = deformer.vertexCount(figure);
        float[] positions = new float[count * 3];
        float[] normals = new float[count * 3];
        deformer.deform(figure, pose, world, new Matrix4d(), positions, normals, false);
        for (int v = 0; v < count; v++) {
            Vector3d expected = plain(asset, pose, figure, world, v);
            Vector3d found = new Vector3d(positions[v * 3], positions[v * 3 + 1], positions[v * 3 + 2]);
            assertThat(found.distance(expected)).isLessThan(2e-5 * Math.max(1, expected.length()));
        }
        float[] parallel = new float[count * 3];
        deformer.deform(figure, pose, world, new Matrix4d(), parallel, new float[count * 3], true);
        assertThat(parallel).isEqualTo(positions);
    }

    private static Vector3d plain(Asset asset, Pose pose, MeshPlace place, Matrix4d[] world, int v) {
        Primitive p = asset.meshes().get(place.mesh()).primitives().getFirst();
        Skin skin = asset.skins().get(place.skin());
        Vector3d base = new Vector3d(p.positions()[v * 3], p.positions()[v * 3 + 1], p.positions()[v * 3 + 2]);
        double[] morph = pose.morph(place.node());
        for (int t = 0; t < p.targets().size(); t++) {
            MorphTarget target = p.targets().get(t);
            base.add(
                    morph[t] * target.positions()[v * 3],
                    morph[t] * target.positions()[v * 3 + 1],
                    morph[t] * target.positions()[v * 3 + 2]);
        }
        Vector3d sum = new Vector3d();
        for (int i = p.influences().offsets()[v]; i < p.influences().offsets()[v + 1]; i++) {
            int joint = p.influences().joints()[i];
            Matrix4d m = new Matrix4d(world[skin.joints()[joint]]).mul(skin.inverseBind(joint));
            sum.fma(p.influences().weights()[i], m.transformPosition(new Vector3d(base)));
        }
        return sum;
    }

    /** A normal stays at right angles to its surface under uneven scale only when it goes by the cofactor matrix. */
    @Test
    public void normalsOfUnevenlyScaledNodesStayAtRightAngles() {
        Asset asset = RandomAssets.of(5);
        Rig rig = new Rig(asset);
        Deformer deformer = new Deformer(asset);
        Pose rest = rig.rest();
        MeshPlace crate = deformer.places().stream()
                .filter(p -> asset.nodes().get(p.node()).name().equals("crate"))
                .findFirst()
                .orElseThrow();
        int count = deformer.vertexCount(crate);
        float[] normals = new float[count * 3];
        Matrix4d[] world = rest.world();
        deformer.deform(crate, rest, world, new Matrix4d(), new float[count * 3], normals, false);
        float[] bound = asset.meshes().get(crate.mesh()).primitives().getFirst().normals();
        for (int v = 0; v < count; v++) {
            Vector3d n = new Vector3d(bound[v * 3], bound[v * 3 + 1], bound[v * 3 + 2]);
            Vector3d along = new Vector3d(n).cross(0.3, 0.5, 0.8).normalize();
            world[crate.node()].transformDirection(along).normalize();
            Vector3d moved = new Vector3d(normals[v * 3], normals[v * 3 + 1], normals[v * 3 + 2]).normalize();
            assertThat(moved.dot(along)).isCloseTo(0, within(1e-5));
        }
    }
}
