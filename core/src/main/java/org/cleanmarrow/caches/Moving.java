package org.cleanmarrow.caches;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.model.VertexTrack;
import org.cleanmarrow.work.Work;

/**
 * Points at rest and where they are in frames, as decompositions read them again and again: frame by frame, 3 a point.
 *
 * @param rest   3 a point
 * @param frames the same for each frame
 * @param vertex of each point the vertex of the mesh that it is
 */
record Moving(float[] rest, List<float[]> frames, int[] vertex) {

    /**
     * Some vertices in all frames of some tracks.
     *
     * @param rest 3 a vertex of the mesh
     */
    static Moving of(float[] rest, List<VertexTrack> tracks, int[] vertices, Work work) {
        List<float[]> frames = new ArrayList<>();
        for (VertexTrack track : tracks) {
            float[] all = new float[track.width()];
            for (int k = 0; k < track.times().length; k++) {
                work.stopIfCancelled();
                track.at(k, all);
                frames.add(picked(all, vertices));
            }
        }
        return new Moving(picked(rest, vertices), frames, vertices);
    }

    private static float[] picked(float[] all, int[] vertices) {
        float[] out = new float[3 * vertices.length];
        for (int i = 0; i < vertices.length; i++) {
            System.arraycopy(all, 3 * vertices[i], out, 3 * i, 3);
        }
        return out;
    }

    /** So many of the points, evenly spread over their order; all where there are no more. */
    Moving some(int most) {
        if (vertex.length <= most) {
            return this;
        }
        int[] which = IntStream.range(0, most)
                .map(i -> (int) ((long) i * vertex.length / most))
                .toArray();
        return new Moving(
                picked(rest, which),
                frames.stream().map(f -> picked(f, which)).toList(),
                Arrays.stream(which).map(i -> vertex[i]).toArray());
    }

    int points() {
        return vertex.length;
    }

    /** Length of the diagonal of the points' box at rest. */
    double size() {
        Box box = Box.empty();
        box.grow(rest);
        return box.diagonal();
    }
}
