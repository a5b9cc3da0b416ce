package org.cleanmarrow.checks.caches;

import java.util.Arrays;
import java.util.BitSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.caches.CacheUse;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.VertexTrack;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.work.Kept;

/**
 * What is wrong with the frames of a vertex cache that fits its mesh; looked for once in the same frames of the same mesh, in one
 * pass, whichever check asks first.
 *
 * @param popped    vertices that pop
 * @param poppedAt  the first frame in which one does, from the clip's first on
 * @param stretched how many times as long as at rest the surface is where it is longest
 * @param longestAt in which frame
 * @param begins    how many times as long it is in the first frame
 */
record CacheFaults(BitSet popped, int poppedAt, double stretched, int longestAt, double begins) {
    /** A vertex pops that leaves its way by more than this share of the size of the mesh... */
    private static final double SEEN = 0.05;
    /** ...and by more than so many times what any vertex beside it does. */
    private static final double BESIDE = 4;

    private static final Kept<CacheFaults> KEPT = new Kept<>(64);

    /** Of every cache that fits its mesh. */
    static Map<CacheUse, CacheFaults> of(Examination examination) {
        Asset asset = examination.asset();
        Map<CacheUse, CacheFaults> out = new LinkedHashMap<>();
        for (CacheUse use : CacheUse.all(asset)) {
            if (use.fits(asset)) {
                Mesh mesh = asset.meshes().get(use.mesh());
                // Where a skin has the mesh depends on the joints too.
                Node node = asset.nodes().get(use.node());
                List<Object> read = node.skin() < 0
                        ? List.of(mesh, use.track())
                        : List.of(mesh, use.track(), node, asset.nodes(), asset.skins());
                out.put(use, KEPT.of(read, () -> of(mesh, use.rest(asset), use.track())));
            }
        }
        return out;
    }

    private static CacheFaults of(Mesh mesh, float[] stands, VertexTrack track) {
        WeldedSurface surface = MeshTopology.of(mesh).welded(mesh);
        Edges edges = Edges.of(surface);
        double size = CacheUnit.diagonal(stands);
        double rest = edges.length(stands);
        float[][] frames = new float[3][track.width()];
        double[] off = new double[surface.size()];
        BitSet popped = new BitSet();
        int poppedAt = -1;
        double begins = 0;
        double most = 0;
        int longestAt = 0;
        for (int k = 0; k < track.times().length; k++) {
            float[] now = frames[k % 3];
            track.at(k, now);
            double longer = rest > 0 ? edges.length(now) / rest : 0;
            begins = k == 0 ? longer : begins;
            if (longer > most) {
                most = longer;
                longestAt = k;
            }
            if (k < 2) {
                continue;
            }
            edges.leaves(frames[(k + 1) % 3], frames[(k + 2) % 3], now, off);
            for (int p = 0; p < off.length; p++) {
                if (off[p] > SEEN * size && off[p] > BESIDE * edges.beside(off, p)) {
                    popped.set(surface.vertexOf(p));
                    poppedAt = poppedAt < 0 ? k - 1 : poppedAt;
                }
            }
        }
        return new CacheFaults(popped, poppedAt, most, longestAt, begins);
    }

    /**
     * A surface as arrays alone, because every frame is gone over.
     *
     * @param vertices the first vertex on every place
     * @param starts   where each place's neighbours begin
     */
    private record Edges(int[] vertices, int[] starts, int[] neighbours) {
        static Edges of(WeldedSurface surface) {
            int[] vertices = new int[surface.size()];
            Arrays.setAll(vertices, surface::vertexOf);
            return new Edges(vertices, surface.starts(), surface.neighbours());
        }

        /** Of all edges. @param at 3 a vertex */
        double length(float[] at) {
            double sum = 0;
            for (int p = 0; p < vertices.length; p++) {
                int a = 3 * vertices[p];
                for (int e = starts[p]; e < starts[p + 1]; e++) {
                    if (neighbours[e] > p) {
                        int b = 3 * vertices[neighbours[e]];
                        double x = (double) at[a] - at[b];
                        double y = (double) at[a + 1] - at[b + 1];
                        double z = (double) at[a + 2] - at[b + 2];
                        sum += Math.sqrt(x * x + y * y + z * z);
                    }
                }
            }
            return sum;
        }

        /** How far every place leaves the straight way through three frames. */
        void leaves(float[] was, float[] is, float[] next, double[] off) {
            for (int p = 0; p < off.length; p++) {
                double sum = 0;
                int v = 3 * vertices[p];
                for (int i = v; i < v + 3; i++) {
                    double bent = (double) was[i] - 2.0 * is[i] + next[i];
                    sum += bent * bent;
                }
                off[p] = Math.sqrt(sum);
            }
        }

        double beside(double[] off, int p) {
            double most = 0;
            for (int e = starts[p]; e < starts[p + 1]; e++) {
                most = Math.max(most, off[neighbours[e]]);
            }
            return most;
        }
    }
}
