package org.cleanmarrow.pose;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import org.cleanmarrow.measure.SelfIntersections;
import org.cleanmarrow.model.Influences;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.testng.annotations.Test;

/** Worked values of skinning and strain. */
public class BlendAndStrainTest {
    private static Influences half() {
        Influences.Builder rows = new Influences.Builder(1);
        rows.add(0, 0.5f);
        rows.add(1, 0.5f);
        rows.endRow();
        return rows.build();
    }

    private static double radius(float[] p) {
        return Math.hypot(p[0], p[2]);
    }

    private static float[] linear(Matrix4d... joints) {
        float[] rows = new float[24];
        for (int j = 0; j < 2; j++) {
            for (int r = 0; r < 3; r++) {
                for (int c = 0; c < 4; c++) {
                    rows[j * 12 + r * 4 + c] = (float) joints[j].get(c, r);
                }
            }
        }
        float[] out = new float[3];
        new LinearSkinning(half()).skin(new float[] {0.4f, 0.7f, 0}, null, rows, 0, 1, out, null);
        return out;
    }

    private static float[] dual(Matrix4d... joints) {
        float[] out = new float[3];
        new DualSkinning(joints).skin(half(), new float[] {0.4f, 0.7f, 0}, null, 0, 1, out, null, 0);
        return out;
    }

    /** glTF 2.0, 3.7.3.3, the weighted sum: with 0.5 and 0.5 a vertex goes to the mean of where each joint takes it. */
    @Test
    public void halfAndHalfIsTheMean() {
        float[] out = linear(new Matrix4d(), new Matrix4d().translation(1, 2, -4));
        assertThat(out).containsExactly(new float[] {0.9f, 1.7f, -2}, within(1e-6f));
        assertThat(dual(new Matrix4d(), new Matrix4d().translation(1, 2, -4)))
                .containsExactly(new float[] {0.9f, 1.7f, -2}, within(1e-6f));
    }

    /** Kavan et al. 2008, section 1: twisted by an angle, linear blending shrinks a limb to cos(angle / 2); this does not. */
    @Test
    public void aTwistedLimbKeepsItsWidthOnlyByDualQuaternions() {
        for (int degrees = -175; degrees <= 175; degrees += 25) {
            Matrix4d twist = new Matrix4d().rotationY(Math.toRadians(degrees));
            double shrunk = 0.4 * Math.abs(Math.cos(Math.toRadians(degrees) / 2));
            assertThat(radius(linear(new Matrix4d(), twist))).isCloseTo(shrunk, within(1e-5));
            assertThat(radius(dual(new Matrix4d(), twist))).isCloseTo(0.4, within(1e-5));
            // Whatever the axis goes through, and with a scale on both.
            Matrix4d there = new Matrix4d()
                    .translation(3, 1, 2)
                    .rotateXYZ(0.3, -0.8, 0.4)
                    .scale(1.7);
            float[] moved = dual(there, new Matrix4d(there).mul(twist));
            Vector3d back = new Matrix4d(there).invert().transformPosition(new Vector3d(moved[0], moved[1], moved[2]));
            assertThat(Math.hypot(back.x, back.z)).isCloseTo(0.4, within(1e-5));
            assertThat(back.y).isCloseTo(0.7, within(1e-5));
        }
    }

    @Test
    public void oneJointAloneIsTheSameBothWays() {
        Matrix4d any =
                new Matrix4d().translation(1, -2, 3).rotateXYZ(1, 2, -0.5).scale(0.5, 2, 1.2);
        Vector3d wanted = any.transformPosition(new Vector3d(0.4f, 0.7f, 0));
        float[] out = dual(any, any);
        assertThat(new Vector3d(out[0], out[1], out[2]).distance(wanted)).isLessThan(1e-6);
    }

    /** A map is known, so are its singular values: diag(2, 0.5) turned before and after stretches by 2 and 0.5. */
    @Test
    public void strainIsTheSingularValuesOfTheMap() {
        float[] rest = {0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0};
        int[] triangles = {0, 1, 2, 0, 2, 3};
        Matrix4d map = new Matrix4d()
                .rotationXYZ(0.4, 1, 2)
                .mul(new Matrix4d().rotationZ(0.7))
                .scale(2, 0.5, 1)
                .rotateZ(-0.3);
        float[] posed = new float[12];
        for (int v = 0; v < 4; v++) {
            Vector3d at = map.transformPosition(new Vector3d(rest[v * 3], rest[v * 3 + 1], rest[v * 3 + 2]));
            posed[v * 3] = (float) at.x;
            posed[v * 3 + 1] = (float) at.y;
            posed[v * 3 + 2] = (float) at.z;
        }
        Strain strain = Strain.of(triangles, rest, posed);
        assertThat(strain.longest()).isCloseTo(2, within(1e-5));
        assertThat(strain.least()).isCloseTo(0.5, within(1e-5));
        assertThat(strain.stretch()[0]).isCloseTo(1, within(1e-5f));
        assertThat(strain.mean()).isCloseTo(1, within(1e-5));
        assertThat(strain.turned().isEmpty()).isTrue();
        assertThat(Strain.of(triangles, rest, rest).mean()).isZero();
        // A corner pulled over the opposite edge turns its triangle over.
        float[] folded = rest.clone();
        folded[9] = 1.6f;
        folded[10] = 0.2f;
        assertThat(Strain.of(triangles, rest, folded).turned().cardinality()).isPositive();
        // The volume of the unit cube's corner tetrahedron is a sixth.
        float[] corner = {0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1};
        assertThat(Strain.volume(new int[] {0, 2, 1, 0, 1, 3, 0, 3, 2, 1, 2, 3}, corner))
                .isCloseTo(1.0 / 6, within(1e-12));
        assertThat(Strain.of(new int[] {0, 0, 1}, rest, posed).stretch()).containsOnly(0f);
    }

    /** A strip of squares; folded back through itself its edges go through its squares, unfolded none does. */
    @Test
    public void aSurfaceThatGoesThroughItselfIsFound() {
        int count = 8;
        float[] flat = new float[count * 6];
        float[] folded = new float[count * 6];
        int[] triangles = new int[(count - 1) * 6];
        for (int i = 0; i < count; i++) {
            for (int side = 0; side < 2; side++) {
                int v = i * 2 + side;
                flat[v * 3] = i;
                flat[v * 3 + 2] = side;
                // Up, over, and down through the first squares.
                double[][] way = {{0, 0}, {1, 0}, {2, 0}, {3, 1}, {3, 2}, {2, 2}, {1.4, 1}, {1.4, -1}};
                folded[v * 3] = (float) way[i][0];
                folded[v * 3 + 1] = (float) way[i][1];
                folded[v * 3 + 2] = (float) (i < 5 ? side : 0.2 + 0.6 * side);
            }
            if (i + 1 < count) {
                int a = i * 2;
                System.arraycopy(new int[] {a, a + 1, a + 2, a + 2, a + 1, a + 3}, 0, triangles, i * 6, 6);
            }
        }
        var mesh = org.cleanmarrow.model.Mesh.of(
                "strip", org.cleanmarrow.model.Primitive.triangles(triangles, flat, null, -1));
        var surface = org.cleanmarrow.surface.MeshTopology.of(mesh).welded(mesh);
        SelfIntersections through = new SelfIntersections(surface, flat);
        assertThat(through.count(flat)).isZero();
        assertThat(through.count(folded)).isPositive();
        assertThat(through.count(flat)).as("unfolded again").isZero();
    }

    /** A bent tube: smoothing after deformation brings back width that the elbow lost, and leaves rest and rigid motion. */
    @Test
    public void relaxingLeavesRestAndRigidMotionAndOpensAnElbow() {
        int around = 24;
        int high = 41;
        float[] rest = new float[around * high * 3];
        int[] triangles = new int[around * (high - 1) * 6];
        int at = 0;
        for (int y = 0; y < high; y++) {
            for (int a = 0; a < around; a++) {
                int v = y * around + a;
                double turn = 2 * Math.PI * a / around;
                rest[v * 3] = (float) (0.2 * Math.cos(turn));
                rest[v * 3 + 1] = (y - 20) * 0.05f;
                rest[v * 3 + 2] = (float) (0.2 * Math.sin(turn));
                int next = y * around + (a + 1) % around;
                if (y + 1 < high) {
                    int[] quad = {v, v + around, next, next, v + around, next + around};
                    System.arraycopy(quad, 0, triangles, at, 6);
                    at += 6;
                }
            }
        }
        var mesh = org.cleanmarrow.model.Mesh.of(
                "tube", org.cleanmarrow.model.Primitive.triangles(triangles, rest, null, -1));
        var surface = org.cleanmarrow.surface.MeshTopology.of(mesh).welded(mesh);
        DeltaMush relaxing = new DeltaMush(surface, rest);
        float[] same = relaxing.relaxed(rest);
        Matrix4d away = new Matrix4d().translation(3, -1, 2).rotateXYZ(1, 2, 0.5);
        float[] moved = new float[rest.length];
        float[] bent = new float[rest.length];
        for (int v = 0; v < rest.length / 3; v++) {
            Vector3d p = new Vector3d(rest[v * 3], rest[v * 3 + 1], rest[v * 3 + 2]);
            assertThat(new Vector3d(same[v * 3], same[v * 3 + 1], same[v * 3 + 2]).distance(p))
                    .isLessThan(1e-5);
            Vector3d q = away.transformPosition(new Vector3d(p));
            // Half and half in the middle ring alone: a hard elbow of 90 degrees.
            double w = Math.clamp(p.y / 0.1 + 0.5, 0, 1);
            Vector3d turned = new Vector3d(p).rotateZ(Math.PI / 2);
            Vector3d b = new Vector3d(p).lerp(turned, w);
            for (int k = 0; k < 3; k++) {
                moved[v * 3 + k] = (float) q.get(k);
                bent[v * 3 + k] = (float) b.get(k);
            }
        }
        float[] back = relaxing.relaxed(moved);
        for (int i = 0; i < back.length; i++) {
            assertThat(back[i]).isCloseTo(moved[i], within(1e-4f));
        }
        Strain hard = Strain.of(triangles, rest, bent);
        Strain soft = Strain.of(triangles, rest, relaxing.relaxed(bent));
        double before = 0;
        double after = 0;
        for (int v = 0; v < hard.stretch().length; v++) {
            before += hard.stretch()[v] * hard.stretch()[v];
            after += soft.stretch()[v] * soft.stretch()[v];
        }
        assertThat(after).as("strain, squared and summed").isLessThan(before / 2);
        assertThat(soft.longest()).isLessThan(hard.longest());
        assertThat(soft.turned().cardinality()).isLessThan(hard.turned().cardinality());
    }
}
