package org.cleanmarrow.desktop.uv;

import java.util.BitSet;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.IntStream;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.picture.Pixels;
import org.cleanmarrow.uv.UvDifference;
import org.cleanmarrow.uv.UvLayout;
import org.cleanmarrow.uv.UvOverlap;
import org.cleanmarrow.uv.UvStretch;
import org.cleanmarrow.work.Work;

/**
 * What the view shows of one mesh, found away from the interface thread.
 *
 * @param mesh    number in the asset
 * @param sets    sets of coordinates that the mesh has
 * @param layout  empty where the mesh has no coordinates in the set
 * @param against how the coordinates differ from those that were received; empty where that cannot be told
 * @param picture base colour of the material that most triangles have; empty where that has none that can be read
 */
record UvFacts(
        int mesh,
        int set,
        List<Integer> sets,
        Optional<Shown> layout,
        Optional<UvDifference> against,
        Optional<Pixels.Some> picture) {
    private static final int MOST_PICTURE = 1024;

    /** A layout with what was found of it. */
    record Shown(UvLayout layout, UvStretch stretch, UvOverlap overlap) {
        /** The triangle that is seen at a place, or -1: the last one drawn there. */
        int at(double u, double v) {
            float[] uv = layout.uv();
            int[] corners = layout.corners();
            for (int t = layout.triangleCount() - 1; t >= 0; t--) {
                int a = 2 * corners[3 * t];
                int b = 2 * corners[3 * t + 1];
                int c = 2 * corners[3 * t + 2];
                double ab = side(uv, a, b, u, v);
                double bc = side(uv, b, c, u, v);
                double ca = side(uv, c, a, u, v);
                if (ab >= 0 && bc >= 0 && ca >= 0 || ab <= 0 && bc <= 0 && ca <= 0) {
                    return t;
                }
            }
            return -1;
        }

        private static double side(float[] uv, int a, int b, double u, double v) {
            return ((double) uv[b] - uv[a]) * (v - uv[a + 1]) - ((double) uv[b + 1] - uv[a + 1]) * (u - uv[a]);
        }

        /** The vertex nearest to a place, at most so far from it, or -1. */
        int vertexAt(double u, double v, double most) {
            int best = -1;
            double least = most * most;
            for (int corner : layout.corners()) {
                double du = layout.uv()[2 * corner] - u;
                double dv = layout.uv()[2 * corner + 1] - v;
                if (du * du + dv * dv < least) {
                    least = du * du + dv * dv;
                    best = corner;
                }
            }
            return best;
        }

        /** Vertices inside a box. */
        BitSet within(double left, double top, double right, double bottom) {
            BitSet out = new BitSet();
            for (int corner : layout.corners()) {
                float u = layout.uv()[2 * corner];
                float v = layout.uv()[2 * corner + 1];
                if (u >= left && u <= right && v >= top && v <= bottom) {
                    out.set(corner);
                }
            }
            return out;
        }

        /** Vertices of triangles all of whose corners are in a set. */
        BitSet facesOf(BitSet in) {
            BitSet out = new BitSet();
            int[] corners = layout.corners();
            for (int t = 0; t < corners.length; t += 3) {
                if (in.get(corners[t]) && in.get(corners[t + 1]) && in.get(corners[t + 2])) {
                    out.set(corners[t]);
                    out.set(corners[t + 1]);
                    out.set(corners[t + 2]);
                }
            }
            return out;
        }

        /** Vertices of the islands that a set touches. */
        BitSet islandsOf(BitSet in) {
            BitSet islands = new BitSet();
            int[] corners = layout.corners();
            for (int i = 0; i < corners.length; i++) {
                if (in.get(corners[i])) {
                    islands.set(layout.islandOf(i / 3));
                }
            }
            BitSet out = new BitSet();
            for (int i = 0; i < corners.length; i++) {
                if (islands.get(layout.islandOf(i / 3))) {
                    out.set(corners[i]);
                }
            }
            return out;
        }

        /** Box of some vertices: left, top, right, bottom; null where there are none with coordinates. */
        double[] box(BitSet some) {
            double[] out = {
                Double.POSITIVE_INFINITY, Double.POSITIVE_INFINITY, Double.NEGATIVE_INFINITY, Double.NEGATIVE_INFINITY
            };
            for (int corner : layout.corners()) {
                if (some == null || some.get(corner)) {
                    for (int k = 0; k < 2; k++) {
                        out[k] = Math.min(out[k], layout.uv()[2 * corner + k]);
                        out[k + 2] = Math.max(out[k + 2], layout.uv()[2 * corner + k]);
                    }
                }
            }
            return out[0] > out[2] ? null : out;
        }
    }

    static UvFacts of(Asset asset, Asset received, int mesh, int wanted, Work work) {
        Mesh shown = asset.meshes().get(mesh);
        List<Integer> sets = UvLayout.sets(shown);
        int set = sets.contains(wanted) || sets.isEmpty() ? wanted : sets.getFirst();
        Optional<UvLayout> layout = UvLayout.of(shown, set);
        if (layout.isEmpty()) {
            return new UvFacts(mesh, set, sets, Optional.empty(), Optional.empty(), Optional.empty());
        }
        int before = received.findMesh(asset.meshRef(mesh));
        Optional<UvDifference> against = before < 0
                ? Optional.empty()
                : UvLayout.of(received.meshes().get(before), set).flatMap(l -> UvDifference.of(l, layout.get()));
        return new UvFacts(
                mesh,
                set,
                sets,
                Optional.of(
                        new Shown(layout.get(), UvStretch.of(shown, layout.get()), UvOverlap.of(layout.get(), work))),
                against,
                picture(asset, layout.get()));
    }

    private static Optional<Pixels.Some> picture(Asset asset, UvLayout layout) {
        int[] many = new int[asset.materials().size()];
        IntStream.range(0, layout.triangleCount())
                .map(layout::materialOf)
                .filter(m -> m >= 0)
                .forEach(m -> many[m]++);
        return IntStream.range(0, many.length)
                .boxed()
                .filter(m -> many[m] > 0)
                .max((a, b) -> many[a] - many[b])
                .map(asset.materials()::get)
                .map(Material::texture)
                .filter(t -> t >= 0)
                .map(t -> asset.textures().get(t).image())
                .filter(i -> i >= 0)
                .map(i -> asset.images().get(i).bytes())
                .filter(Objects::nonNull)
                .flatMap(b -> Pixels.some(b, MOST_PICTURE));
    }
}
