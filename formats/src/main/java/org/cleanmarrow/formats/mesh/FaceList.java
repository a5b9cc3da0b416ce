package org.cleanmarrow.formats.mesh;

import java.util.Arrays;
import java.util.List;
import org.cleanmarrow.model.Faces;
import org.jspecify.annotations.Nullable;

/** Polygons as they are read, begun late: the triangles before the first larger one need no list. */
public final class FaceList {
    private int[] starts;
    private int[] corners;
    private int[] smoothing;
    private int[] groups;
    private int count;
    private boolean smooth;
    private boolean grouped;

    /** True for a triangle of which nothing more is said. */
    public static boolean isPlain(int size, int smoothing, int group) {
        return size == 3 && smoothing == 0 && group < 0;
    }

    /**
     * Begins after triangles that are there already.
     *
     * @param before their corners, three each
     */
    public FaceList(int triangles, int[] before) {
        int room = Math.max(64, triangles * 2);
        starts = new int[room + 1];
        smoothing = new int[room];
        groups = new int[room];
        corners = Arrays.copyOf(before, Math.max(256, triangles * 6));
        for (int t = 0; t <= triangles; t++) {
            starts[t] = 3 * t;
        }
        Arrays.fill(groups, -1);
        count = triangles;
    }

    /** Adds a polygon of the first {@code size} corners of {@code own}. */
    public void add(int[] own, int size, int smoothingGroup, int group) {
        int end = starts[count] + size;
        if (end > corners.length) {
            corners = Arrays.copyOf(corners, Math.max(end, corners.length * 2));
        }
        if (count == smoothing.length) {
            starts = Arrays.copyOf(starts, count * 2 + 1);
            smoothing = Arrays.copyOf(smoothing, count * 2);
            groups = Arrays.copyOf(groups, count * 2);
        }
        System.arraycopy(own, 0, corners, starts[count], size);
        smoothing[count] = smoothingGroup;
        groups[count] = group;
        smooth |= smoothingGroup != 0;
        grouped |= group >= 0;
        starts[++count] = end;
    }

    /**
     * The polygons.
     *
     * @param place  new number of each vertex; null: as they are
     * @param points see {@link Faces#points}
     */
    public Faces result(int @Nullable [] place, int @Nullable [] points, List<String> names) {
        int[] renumbered = Arrays.copyOf(corners, starts[count]);
        for (int i = 0; place != null && i < renumbered.length; i++) {
            renumbered[i] = place[renumbered[i]];
        }
        return new Faces(
                Arrays.copyOf(starts, count + 1),
                renumbered,
                points,
                smooth ? Arrays.copyOf(smoothing, count) : null,
                grouped ? Arrays.copyOf(groups, count) : null,
                grouped ? List.copyOf(names) : List.of());
    }
}
