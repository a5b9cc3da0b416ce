package org.cleanmarrow.model;

import java.util.Arrays;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * The polygons that the triangles of a primitive were cut from, as the file had them. Whatever changes the triangles
 * otherwise drops them.
 *
 * @param starts     polygon count + 1 rising positions in {@code corners}
 * @param corners    vertex numbers, round each polygon
 * @param points     for each vertex the number of the position that it stands for; null: each its own
 * @param smoothing  smoothing group of each polygon, 0 for none; null: nothing was said
 * @param groups     position in {@code groupNames} for each polygon; null: no groups
 */
public record Faces(
        int[] starts,
        int[] corners,
        int @Nullable [] points,
        int @Nullable [] smoothing,
        int @Nullable [] groups,
        List<String> groupNames) {
    public int count() {
        return starts.length - 1;
    }

    /** Polygons of more than three corners. */
    public int beyondTriangles() {
        int many = 0;
        for (int f = 0; f < count(); f++) {
            many += starts[f + 1] - starts[f] > 3 ? 1 : 0;
        }
        return many;
    }

    /** The same polygons seen from behind: each starts at the same corner and runs the other way. */
    public Faces turnedRound() {
        int[] turned = corners.clone();
        for (int f = 0; f < count(); f++) {
            int last = starts[f + 1];
            for (int i = starts[f] + 1; i < last; i++) {
                turned[i] = corners[last - (i - starts[f])];
            }
        }
        return new Faces(starts, turned, points, smoothing, groups, groupNames);
    }

    /** True where every triangle lies in a polygon of its own three corners, so that nothing needs to be kept. */
    public boolean addsNothing() {
        return beyondTriangles() == 0 && points == null && smoothing == null && groups == null;
    }

    @Override
    public boolean equals(Object other) {
        return other instanceof Faces o
                && Arrays.equals(starts, o.starts)
                && Arrays.equals(corners, o.corners)
                && Arrays.equals(points, o.points)
                && Arrays.equals(smoothing, o.smoothing)
                && Arrays.equals(groups, o.groups)
                && groupNames.equals(o.groupNames);
    }

    @Override
    public int hashCode() {
        return Arrays.hashCode(corners);
    }
}
