package org.cleanmarrow.collision;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import org.cleanmarrow.work.Work;
import org.joml.Vector3d;
import org.joml.Vector3dc;

/**
 * A surface that is not convex as several hulls close to it. Pieces that hang together nowhere are parts from the start; then the
 * part whose hull holds most that is not its own is cut by the plane that leaves the least volume of hulls, and at the end those
 * are put together again that lose little by it. Planes lie along the sides of the tightest box, at even steps and where flat sides
 * lie, so what is built of boxes is cut at its corners.
 */
public final class ConvexParts {
    /** Planes are sought on a surface of no more triangles, its vertices drawn together in cells. */
    private static final int TRIANGLES = 3000;

    private static final int CELLS = 64;
    private static final int STEPS = 8;
    private static final int FLAT_SIDES = 6;
    private static final int REFINED = 4;
    /** A cut that saves less than this share of the part is none; a ring is then cut through its middle. */
    private static final double WORTH = 1e-3;

    private final Work work;

    private ConvexParts(Work work) {
        this.work = work;
    }

    /**
     * Triangles and what closes them, a triangle 9 numbers.
     *
     * @param piece  that it was cut from
     * @param caps   signed: what lies twice counts nought
     * @param volume of what is enclosed
     */
    private record Part(
            int piece, double[] surface, double[] caps, Optional<Hull> hull, double volume, List<Plane> cuts) {
        double around() {
            return hull.map(Hull::volume).orElse(0.0);
        }

        double excess() {
            return Math.max(0, around() - Math.abs(volume));
        }
    }

    /** What lies under the plane. */
    private record Plane(Vector3dc normal, double height) {
        Plane other() {
            return new Plane(normal.negate(new Vector3d()), -height);
        }

        double over(double[] p, int i) {
            return normal.x() * p[i] + normal.y() * p[i + 1] + normal.z() * p[i + 2] - height;
        }
    }

    /**
     * The parts, the largest first.
     *
     * @param points  3 numbers a vertex, finite
     * @param corners 3 vertices a triangle
     * @param island  for each vertex which of the pieces it belongs to
     * @param most    1 or more
     * @param excess  share of the volume of all hulls that may be empty, 0 to 1; more is cut as long as parts are left
     * @throws java.util.concurrent.CancellationException when {@code work} was cancelled
     */
    public static List<Hull> of(double[] points, int[] corners, int[] island, int most, double excess, Work work) {
        return new ConvexParts(work).parts(points, corners, island, most, excess);
    }

    private List<Hull> parts(double[] points, int[] corners, int[] island, int most, double excess) {
        List<Part> parts = new ArrayList<>();
        List<double[]> whole = pieces(points, corners, island, most);
        for (double[] surface : whole) {
            parts.add(part(parts.size(), coarse(surface), new double[0], List.of()));
        }
        // As many more than there are to be, to be put together again.
        int target = parts.size() + most;
        Set<Part> settled = new HashSet<>();
        while (parts.size() < target) {
            work.stopIfCancelled();
            work.at(parts.size() / (double) target, "");
            double sum = parts.stream().mapToDouble(Part::around).sum();
            Optional<Part> worst = parts.stream()
                    .filter(p -> !settled.contains(p) && p.excess() > excess * sum / target)
                    .max(Comparator.comparingDouble(Part::excess));
            if (worst.isEmpty()) {
                break;
            }
            Optional<List<Part>> halves = cut(worst.get());
            if (halves.isEmpty()) {
                settled.add(worst.get());
                continue;
            }
            parts.remove(worst.get());
            parts.addAll(halves.get());
        }
        List<Hull> exact = new ArrayList<>();
        for (Part p : parts) {
            double[] surface = whole.get(p.piece);
            for (Plane plane : p.cuts) {
                surface = under(surface, plane, new double[0])[0];
            }
            hull(surface).or(() -> p.hull).ifPresent(exact::add);
        }
        return together(exact, most, excess);
    }

    private static double sum(List<Part> parts) {
        return parts.stream().mapToDouble(Part::around).sum();
    }

    /** The triangles of each piece; of all together where there are far more pieces than parts are wanted. */
    private static List<double[]> pieces(double[] points, int[] corners, int[] island, int most) {
        Set<Integer> many = new HashSet<>();
        for (int c = 0; c < corners.length; c += 3) {
            many.add(island[corners[c]]);
        }
        boolean apart = many.size() <= 4 * most;
        Map<Integer, Triangles> out = new LinkedHashMap<>();
        for (int c = 0; c < corners.length; c += 3) {
            out.computeIfAbsent(apart ? island[corners[c]] : 0, number -> new Triangles())
                    .add(points, 3 * corners[c], points, 3 * corners[c + 1], points, 3 * corners[c + 2]);
        }
        return out.values().stream().map(Triangles::all).toList();
    }

    /** The same surface in few triangles: vertices that share a cell of a grid lie in the middle of them. */
    private static double[] coarse(double[] surface) {
        double[] out = surface;
        for (int cells = CELLS; out.length > 9 * TRIANGLES; cells = cells * 3 / 4) {
            out = drawnTogether(surface, cells);
        }
        return out;
    }

    private static double[] drawnTogether(double[] surface, int cells) {
        double size = 0;
        double[] low = {surface[0], surface[1], surface[2]};
        for (int i = 0; i < surface.length; i++) {
            low[i % 3] = Math.min(low[i % 3], surface[i]);
        }
        for (int i = 0; i < surface.length; i++) {
            size = Math.max(size, surface[i] - low[i % 3]);
        }
        Map<Long, double[]> middles = new HashMap<>();
        long[] cell = new long[surface.length / 3];
        for (int v = 0; v < cell.length; v++) {
            for (int a = 0; a < 3; a++) {
                cell[v] = cell[v] * (cells + 1) + (long) ((surface[3 * v + a] - low[a]) / size * cells);
            }
            double[] sum = middles.computeIfAbsent(cell[v], c -> new double[4]);
            for (int a = 0; a < 3; a++) {
                sum[a] += surface[3 * v + a];
            }
            sum[3]++;
        }
        double[] out = new double[surface.length];
        int n = 0;
        for (int v = 0; v < cell.length; v += 3) {
            if (cell[v] != cell[v + 1] && cell[v + 1] != cell[v + 2] && cell[v] != cell[v + 2]) {
                for (int i = 0; i < 3; i++) {
                    double[] sum = Objects.requireNonNull(middles.get(cell[v + i]));
                    for (int a = 0; a < 3; a++) {
                        out[n++] = sum[a] / sum[3];
                    }
                }
            }
        }
        return Arrays.copyOf(out, n);
    }

    private static Part part(int piece, double[] surface, double[] caps, List<Plane> cuts) {
        return new Part(piece, surface, caps, hull(surface), (six(surface, surface) + six(caps, surface)) / 6, cuts);
    }

    /** Six times the volume between triangles and the first corner of a surface. */
    private static double six(double[] triangles, double[] from) {
        double sum = 0;
        for (int t = 0; t + 8 < triangles.length; t += 9) {
            double ax = triangles[t] - from[0];
            double ay = triangles[t + 1] - from[1];
            double az = triangles[t + 2] - from[2];
            double bx = triangles[t + 3] - from[0];
            double by = triangles[t + 4] - from[1];
            double bz = triangles[t + 5] - from[2];
            double cx = triangles[t + 6] - from[0];
            double cy = triangles[t + 7] - from[1];
            double cz = triangles[t + 8] - from[2];
            sum += ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx);
        }
        return sum;
    }

    private static Optional<Hull> hull(double[] surface) {
        Set<List<Double>> seen = new HashSet<>();
        double[] points = new double[surface.length];
        int n = 0;
        for (int i = 0; i < surface.length; i += 3) {
            if (seen.add(List.of(surface[i], surface[i + 1], surface[i + 2]))) {
                System.arraycopy(surface, i, points, n, 3);
                n += 3;
            }
        }
        return Hull.of(Arrays.copyOf(points, n));
    }

    private Optional<List<Part>> cut(Part part) {
        if (part.hull.isEmpty()) {
            return Optional.empty();
        }
        TightBox box = TightBox.of(part.hull.get());
        Frame frame = box.frame();
        Optional<List<Part>> best = Optional.empty();
        Plane at = null;
        double step = 0;
        for (int a = 0; a < 3; a++) {
            Vector3d axis = frame.axis(a);
            double[] heights = heights(part.surface, axis);
            double low = Arrays.stream(heights).min().orElse(0);
            double high = Arrays.stream(heights).max().orElse(0);
            Set<Double> places = new TreeSet<>(flatSides(heights, low, high));
            for (int i = 1; i < STEPS; i++) {
                places.add(low + (high - low) * i / STEPS);
            }
            for (double height : places) {
                work.stopIfCancelled();
                Plane plane = new Plane(axis, height);
                Optional<List<Part>> halves = halves(part, plane);
                if (isBetter(halves, best)) {
                    best = halves;
                    at = plane;
                    step = (high - low) / STEPS / 2;
                }
            }
        }
        for (int i = 0; i < REFINED && at != null; i++, step /= 2) {
            for (Plane plane :
                    List.of(new Plane(at.normal, at.height - step), new Plane(at.normal, at.height + step))) {
                Optional<List<Part>> halves = halves(part, plane);
                if (isBetter(halves, best)) {
                    best = halves;
                    at = plane;
                }
            }
        }
        if (best.isEmpty() || sum(best.get()) < part.around() * (1 - WORTH)) {
            return best;
        }
        Vector3d axis = frame.axis(new Vector3d(box.sizes()).maxComponent());
        return halves(part, new Plane(axis, axis.dot(frame.origin())));
    }

    private static boolean isBetter(Optional<List<Part>> halves, Optional<List<Part>> best) {
        return halves.isPresent() && (best.isEmpty() || sum(halves.get()) < sum(best.get()) * (1 - 1e-9));
    }

    private static double[] heights(double[] surface, Vector3d axis) {
        double[] out = new double[surface.length / 3];
        for (int v = 0; v < out.length; v++) {
            out[v] = axis.x * surface[3 * v] + axis.y * surface[3 * v + 1] + axis.z * surface[3 * v + 2];
        }
        return out;
    }

    /** Heights at which most of the surface lies level, without the ends. */
    private static List<Double> flatSides(double[] heights, double low, double high) {
        double near = 1e-6 * (high - low);
        Map<Long, double[]> level = new HashMap<>();
        for (int t = 0; t + 2 < heights.length; t += 3) {
            double h = heights[t];
            boolean flat = Math.abs(heights[t + 1] - h) <= near && Math.abs(heights[t + 2] - h) <= near;
            if (flat && h - low > 10 * near && high - h > 10 * near) {
                double[] sum = level.computeIfAbsent(Math.round(h / (10 * near)), k -> new double[] {h, 0});
                sum[1]++;
            }
        }
        return level.entrySet().stream()
                .sorted(Comparator.<Map.Entry<Long, double[]>>comparingDouble(e -> -e.getValue()[1])
                        .thenComparing(Map.Entry::getKey))
                .limit(FLAT_SIDES)
                .map(e -> e.getValue()[0])
                .toList();
    }

    private static Optional<List<Part>> halves(Part part, Plane plane) {
        List<Part> out = new ArrayList<>();
        for (Plane side : List.of(plane, plane.other())) {
            double[][] kept = under(part.surface, side, part.caps);
            if (kept[0].length == 0) {
                return Optional.empty();
            }
            List<Plane> cuts = new ArrayList<>(part.cuts);
            cuts.add(side);
            out.add(part(part.piece, kept[0], kept[1], cuts));
        }
        return Optional.of(out);
    }

    /** What of a surface and its caps lies under a plane, the caps with what closes the cut. */
    private static double[][] under(double[] surface, Plane plane, double[] caps) {
        Triangles kept = new Triangles();
        Triangles closing = new Triangles();
        Fan fan = new Fan();
        clip(surface, plane, kept, fan);
        clip(caps, plane, closing, fan);
        fan.into(closing);
        return new double[][] {kept.all(), closing.all()};
    }

    private static void clip(double[] triangles, Plane plane, Triangles into, Fan fan) {
        double size = 0;
        for (double x : triangles) {
            size = Math.max(size, Math.abs(x));
        }
        double level = 1e-9 * size;
        double[] h = new double[3];
        double[] polygon = new double[12];
        boolean[] on = new boolean[4];
        for (int t = 0; t < triangles.length; t += 9) {
            boolean any = false;
            for (int i = 0; i < 3; i++) {
                h[i] = plane.over(triangles, t + 3 * i);
                h[i] = Math.abs(h[i]) <= level ? 0 : h[i];
                any |= h[i] < 0;
            }
            int n = 0;
            for (int i = 0; i < 3 && any; i++) {
                int j = (i + 1) % 3;
                if (h[i] <= 0) {
                    System.arraycopy(triangles, t + 3 * i, polygon, 3 * n, 3);
                    on[n++] = h[i] == 0;
                }
                if (h[i] < 0 && h[j] > 0 || h[i] > 0 && h[j] < 0) {
                    // Always from the lower end, so that both triangles at an edge are cut at the same point.
                    int low = h[i] < 0 ? i : j;
                    int high = low == i ? j : i;
                    double share = h[low] / (h[low] - h[high]);
                    for (int a = 0; a < 3; a++) {
                        double from = triangles[t + 3 * low + a];
                        polygon[3 * n + a] = from + share * (triangles[t + 3 * high + a] - from);
                    }
                    on[n++] = true;
                }
            }
            for (int i = 1; i + 1 < n; i++) {
                into.add(polygon, 0, polygon, 3 * i, polygon, 3 * i + 3);
            }
            for (int i = 0; i < n; i++) {
                int j = (i + 1) % n;
                if (on[i] && on[j]) {
                    fan.add(polygon, 3 * j, 3 * i);
                }
            }
        }
    }

    /** Growing room for triangles. */
    private static final class Triangles {
        private double[] at = new double[90];
        private int count;

        void add(double[] a, int i, double[] b, int j, double[] c, int k) {
            if (count + 9 > at.length) {
                at = Arrays.copyOf(at, 2 * at.length);
            }
            System.arraycopy(a, i, at, count, 3);
            System.arraycopy(b, j, at, count + 3, 3);
            System.arraycopy(c, k, at, count + 6, 3);
            count += 9;
        }

        double[] all() {
            return Arrays.copyOf(at, count);
        }
    }

    /** Closes a cut by triangles between its edges and one point of it; those that lie twice take each other away. */
    private static final class Fan {
        private final List<double[]> edges = new ArrayList<>();

        void add(double[] polygon, int from, int to) {
            edges.add(new double[] {
                polygon[from], polygon[from + 1], polygon[from + 2], polygon[to], polygon[to + 1], polygon[to + 2]
            });
        }

        void into(Triangles out) {
            for (double[] edge : edges) {
                out.add(edges.getFirst(), 0, edge, 0, edge, 3);
            }
        }
    }

    /** As long as there are too many, or two are nearly one, those are put together that lose least by it. */
    private List<Hull> together(List<Hull> hulls, int most, double excess) {
        List<Hull> parts = new ArrayList<>(hulls);
        parts.sort(Comparator.comparingDouble(h -> -h.volume()));
        double all = parts.stream().mapToDouble(Hull::volume).sum();
        Map<List<Hull>, Optional<Hull>> tried = new HashMap<>();
        while (parts.size() > 1) {
            work.stopIfCancelled();
            double least = Double.POSITIVE_INFINITY;
            List<Hull> pair = List.of();
            Optional<Hull> joint = Optional.empty();
            for (int a = 0; a < parts.size(); a++) {
                for (int b = a + 1; b < parts.size(); b++) {
                    List<Hull> two = List.of(parts.get(a), parts.get(b));
                    Optional<Hull> one = tried.computeIfAbsent(two, t -> joined(t.get(0), t.get(1)));
                    double loses = one.map(Hull::volume).orElse(0.0)
                            - two.get(0).volume()
                            - two.get(1).volume();
                    if (one.isPresent() && loses < least) {
                        least = loses;
                        pair = two;
                        joint = one;
                    }
                }
            }
            if (pair.isEmpty() || parts.size() <= most && least > excess * all / most) {
                break;
            }
            parts.removeAll(pair);
            parts.add(joint.orElseThrow());
            parts.sort(Comparator.comparingDouble(h -> -h.volume()));
        }
        return parts;
    }

    private static Optional<Hull> joined(Hull a, Hull b) {
        double[] points = Arrays.copyOf(a.points(), a.points().length + b.points().length);
        System.arraycopy(b.points(), 0, points, a.points().length, b.points().length);
        return Hull.of(points);
    }
}
