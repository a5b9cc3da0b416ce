package org.cleanmarrow.weights;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.concurrent.CancellationException;
import org.cleanmarrow.work.Work;
import org.joml.Vector3d;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.Test;

/** Distances run through the volume, never through air. */
public class VolumeTest {
    private final List<Float> points = new ArrayList<>();
    private final List<Integer> triangles = new ArrayList<>();

    @BeforeMethod
    public void nothingYet() {
        points.clear();
        triangles.clear();
    }

    /** A closed box, or one without its lid. */
    private void box(double x0, double y0, double z0, double x1, double y1, double z1, boolean lid) {
        int first = points.size() / 3;
        for (int i = 0; i < 8; i++) {
            points.add((float) ((i & 1) == 0 ? x0 : x1));
            points.add((float) ((i & 2) == 0 ? y0 : y1));
            points.add((float) ((i & 4) == 0 ? z0 : z1));
        }
        int[][] faces = {{0, 4, 6, 2}, {1, 3, 7, 5}, {0, 1, 5, 4}, {0, 2, 3, 1}, {4, 5, 7, 6}, {2, 6, 7, 3}};
        for (int f = 0; f < (lid ? 6 : 5); f++) {
            int[] q = faces[f];
            for (int corner : new int[] {q[0], q[1], q[2], q[0], q[2], q[3]}) {
                triangles.add(first + corner);
            }
        }
    }

    private Volume volume(double cell) {
        float[] p = new float[points.size()];
        for (int i = 0; i < p.length; i++) {
            p[i] = points.get(i);
        }
        Volume made = new Volume(triangles.stream().mapToInt(Integer::intValue).toArray(), p, cell, Work.QUIET);
        nothingYet();
        return made;
    }

    private static BitSet at(Volume volume, double x, double y, double z) {
        BitSet out = new BitSet();
        int cell = volume.solidAt(new Vector3d(x, y, z));
        assertThat(cell).isNotNegative();
        out.set(cell);
        return out;
    }

    @Test
    public void aClosedShellIsFilledAndAnOpenOneIsNot() {
        box(0, 0, 0, 1, 1, 1, true);
        Volume closed = volume(0.05);
        assertThat(closed.solidAt(new Vector3d(0.5, 0.5, 0.5))).isNotNegative();
        assertThat(closed.solidAt(new Vector3d(0.5, 1.2, 0.5))).isNegative();
        assertThat(closed.size()).isBetween(20 * 20 * 20, 23 * 23 * 23);
        box(0, 0, 0, 1, 1, 1, false);
        Volume open = volume(0.05);
        assertThat(open.solidAt(new Vector3d(0.5, 0.5, 0.5))).isNegative();
        assertThat(open.solidAt(new Vector3d(0.5, 0.001, 0.5))).isNotNegative();
    }

    /** In a solid the way along an axis is the straight one; a slanting one is at most 8 % longer by steps of 10, 14 and 17. */
    @Test
    public void throughASolidTheWayIsNearlyStraight() {
        box(0, 0, 0, 2, 1, 1, true);
        Volume volume = volume(0.05);
        int[] tenths = volume.distances(at(volume, 0.2, 0.5, 0.5), Integer.MAX_VALUE, Work.QUIET);
        for (double[] p : new double[][] {{1.8, 0.5, 0.5}, {1.2, 0.8, 0.9}, {0.9, 0.1, 0.2}, {0.3, 0.9, 0.1}}) {
            double straight = new Vector3d(p[0], p[1], p[2]).distance(0.2, 0.5, 0.5);
            double way = volume.at((float) p[0], (float) p[1], (float) p[2], tenths);
            assertThat(way).isBetween(straight - 2 * volume.cell(), straight * 1.1 + 2 * volume.cell());
        }
    }

    @Test
    public void roundACornerTheWayGoesThroughTheSolid() {
        // A U: two uprights with air between them, and a floor that joins them.
        box(0, 0, 0, 0.4, 2, 0.4, true);
        box(1, 0, 0, 1.4, 2, 0.4, true);
        box(0.2, 0, 0, 1.2, 0.4, 0.4, true);
        Volume volume = volume(0.04);
        int[] tenths = volume.distances(at(volume, 0.2, 1.8, 0.2), Integer.MAX_VALUE, Work.QUIET);
        double across = volume.at(1.2f, 1.8f, 0.2f, tenths);
        assertThat(across).as("straight it would be 1").isGreaterThan(3);
    }

    private void ball(double x, double radius) {
        int first = points.size() / 3;
        int rings = 40;
        int around = 60;
        for (int r = 0; r <= rings; r++) {
            double tilt = Math.PI * r / rings;
            for (int a = 0; a < around; a++) {
                double turn = 2 * Math.PI * a / around;
                points.add((float) (x + radius * Math.sin(tilt) * Math.cos(turn)));
                points.add((float) (radius * Math.cos(tilt)));
                points.add((float) (radius * Math.sin(tilt) * Math.sin(turn)));
            }
        }
        for (int r = 0; r < rings; r++) {
            for (int a = 0; a < around; a++) {
                int v = first + r * around + a;
                int next = first + r * around + (a + 1) % around;
                triangles.addAll(List.of(v, next, v + around, next, next + around, v + around));
            }
        }
    }

    /** A hand at a thigh: two solids whose surfaces are a hair apart, in neighbouring cells. */
    @Test
    public void surfacesThatFaceEachOtherAreNoWay() {
        ball(0, 0.5);
        ball(1.06, 0.5);
        Volume volume = volume(0.05);
        int[] tenths = volume.distances(at(volume, 0, 0, 0), Integer.MAX_VALUE, Work.QUIET);
        assertThat(volume.at(0.45f, 0, 0, tenths)).isCloseTo(0.45, within(0.1));
        assertThat(volume.at(1.06f, 0, 0, tenths)).isInfinite();
        Volume.Nearest nearest = volume.nearest(new BitSet[] {at(volume, 0, 0, 0), at(volume, 1.06, 0, 0)}, Work.QUIET);
        BitSet sets = new BitSet();
        volume.around(0.499f, 0, 0, nearest, sets);
        assertThat(sets.stream().toArray()).containsExactly(0);
        volume.around(0.561f, 0, 0, nearest, sets);
        assertThat(sets.stream().toArray()).containsExactly(1);
    }

    @Test
    public void whatIsFartherThanAskedIsNotReachedAndNothingIsNothing() {
        box(0, 0, 0, 2, 0.3, 0.3, true);
        Volume volume = volume(0.05);
        int[] near = volume.distances(at(volume, 0.15, 0.15, 0.15), 100, Work.QUIET);
        assertThat(volume.at(1.9f, 0.15f, 0.15f, near)).isInfinite();
        assertThat(volume.at(0.4f, 0.15f, 0.15f, near)).isCloseTo(0.25, within(0.1));
        int[] none = volume.distances(new BitSet(), 100, Work.QUIET);
        assertThat(Arrays.stream(none).allMatch(d -> d == Integer.MAX_VALUE)).isTrue();
        Volume empty = new Volume(new int[0], new float[0], 1, Work.QUIET);
        assertThat(empty.solidAt(new Vector3d())).isNegative();
    }

    /** A cell wished far too small is enlarged, so that memory stays bounded; and long work can be cancelled. */
    @Test
    public void cellsAreNeverTooManyAndWorkCanBeCancelled() {
        box(0, 0, 0, 1, 1, 1, true);
        Volume volume = volume(1e-9);
        assertThat(volume.cell()).isGreaterThan(1.0 / 300);
        assertThat(volume.size()).isLessThan(16_000_000);
        box(0, 0, 0, 1, 1, 1, true);
        Work cancelled = new Work() {
            @Override
            public void at(double share, String doing) {}

            @Override
            public boolean cancelled() {
                return true;
            }
        };
        float[] p = new float[points.size()];
        for (int i = 0; i < p.length; i++) {
            p[i] = points.get(i);
        }
        int[] corners = triangles.stream().mapToInt(Integer::intValue).toArray();
        org.assertj.core.api.Assertions.assertThatThrownBy(() -> new Volume(corners, p, 0.1, cancelled))
                .isInstanceOf(CancellationException.class);
    }
}
