package org.cleanmarrow.geometry;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.stream.IntStream;
import org.joml.Vector3d;

/**
 * A closed surface that planes cut down: what lies over a plane is gone, and the hole is closed by flat triangles. What is closed
 * before is closed after, whatever the numbers are: an edge is cut at one point for all triangles around it, and the cuts of all
 * triangles form closed outlines (Sutherland and Hodgman 1974, each triangle; the outlines are filled by {@link Polygons}).
 *
 * <p>A vertex is a place and how it is mixed of the vertices it was made from, so that whatever else those had can be mixed
 * likewise. Not safe for several threads.
 */
public final class Cut {
    /** Of each place. */
    private double[] x;

    private int places;
    /** Of each vertex. */
    private int[] placeOf;

    private int[] from;
    private double[] share;
    private int vertices;
    private int[] corners;
    private int[] faces;
    private int triangles;
    /**
     * What closes the cuts, by planes: outlines alone, 2 places an edge with the cap at its left, so that further cuts leave as few
     * corners as there must be.
     */
    private final Map<Integer, List<int[]>> caps = new LinkedHashMap<>();

    private final Map<Integer, Vector3d> normals = new HashMap<>();

    private Cut(int places, int vertices, int triangles) {
        x = new double[3 * places];
        placeOf = new int[vertices];
        from = new int[3 * vertices];
        share = new double[3 * vertices];
        corners = new int[3 * triangles];
        faces = new int[triangles];
    }

    /**
     * A surface before it is cut. Triangles with two corners on one place are left out.
     *
     * @param corners   3 vertices a triangle
     * @param placeOf   of each vertex
     * @param positions 3 numbers a place
     */
    public static Cut of(int[] corners, int[] placeOf, float[] positions) {
        Cut out = new Cut(positions.length / 3, placeOf.length, corners.length / 3);
        for (int i = 0; i < positions.length; i++) {
            out.x[i] = positions[i];
        }
        out.places = positions.length / 3;
        out.vertices = placeOf.length;
        System.arraycopy(placeOf, 0, out.placeOf, 0, placeOf.length);
        Arrays.fill(out.from, -1);
        for (int v = 0; v < placeOf.length; v++) {
            out.from[3 * v] = v;
            out.share[3 * v] = 1;
        }
        for (int t = 0; t < corners.length / 3; t++) {
            int a = placeOf[corners[3 * t]];
            int b = placeOf[corners[3 * t + 1]];
            int c = placeOf[corners[3 * t + 2]];
            if (a != b && b != c && c != a) {
                out.add(t, corners[3 * t], corners[3 * t + 1], corners[3 * t + 2]);
            }
        }
        return out;
    }

    public Cut copy() {
        Cut out = new Cut(0, 0, 0);
        out.x = Arrays.copyOf(x, 3 * places);
        out.places = places;
        out.placeOf = Arrays.copyOf(placeOf, vertices);
        out.from = Arrays.copyOf(from, 3 * vertices);
        out.share = Arrays.copyOf(share, 3 * vertices);
        out.vertices = vertices;
        out.corners = Arrays.copyOf(corners, 3 * triangles);
        out.faces = Arrays.copyOf(faces, triangles);
        out.triangles = triangles;
        out.caps.putAll(caps);
        out.normals.putAll(normals);
        return out;
    }

    /**
     * The surface's places that lie on an edge which does not run as often one way as the other; none where it is closed.
     */
    public int[] open() {
        Map<Long, Integer> turns = new HashMap<>();
        for (int i = 0; i < 3 * triangles; i++) {
            int a = placeOf[corners[i]];
            int b = placeOf[corners[i % 3 == 2 ? i - 2 : i + 1]];
            turns.merge(pair(a, b), a < b ? 1 : -1, Integer::sum);
        }
        return turns.entrySet().stream()
                .filter(e -> e.getValue() != 0)
                .flatMapToInt(
                        e -> IntStream.of((int) (e.getKey() >> 32), e.getKey().intValue()))
                .distinct()
                .sorted()
                .toArray();
    }

    private static long pair(int a, int b) {
        return (long) Math.min(a, b) << 32 | Math.max(a, b);
    }

    public boolean isEmpty() {
        return triangles == 0 && caps.isEmpty();
    }

    public int places() {
        return places;
    }

    public int vertices() {
        return vertices;
    }

    public int triangles() {
        return triangles;
    }

    /** A place's position. */
    public Vector3d at(int place) {
        return new Vector3d(x[3 * place], x[3 * place + 1], x[3 * place + 2]);
    }

    public int placeOf(int vertex) {
        return placeOf[vertex];
    }

    /** Vertex of a corner, of 3 a triangle. */
    public int corner(int corner) {
        return corners[corner];
    }

    /** Number of the triangle that this one was, or -1 less the number of the plane whose cut it closes. */
    public int face(int triangle) {
        return faces[triangle];
    }

    /** Which way the flat triangles that close a cut look. @param face of such a triangle */
    public Vector3d normal(int face) {
        return new Vector3d(Objects.requireNonNull(normals.get(-1 - face)));
    }

    /** The vertex that one of the three shares of a vertex is of; below zero: none. A vertex of a cap has none. */
    public int from(int vertex, int slot) {
        return from[3 * vertex + slot];
    }

    /** Of a vertex, how much of {@link #from} there is in it. */
    public double share(int vertex, int slot) {
        return share[3 * vertex + slot];
    }

    /** Volume inside, below zero where it is turned inside out. */
    public double volume() {
        return volume(new Vector3d());
    }

    /** Volume inside. @param moment is given the middle of it times the volume */
    public double volume(Vector3d moment) {
        moment.zero();
        if (triangles == 0) {
            return 0;
        }
        Vector3d origin = at(placeOf[corners[0]]);
        double sum = 0;
        Vector3d a = new Vector3d();
        Vector3d b = new Vector3d();
        Vector3d c = new Vector3d();
        Vector3d across = new Vector3d();
        for (int t = 0; t < triangles; t++) {
            set(a, 3 * t).sub(origin);
            set(b, 3 * t + 1).sub(origin);
            set(c, 3 * t + 2).sub(origin);
            double v = a.dot(b.cross(c, across)) / 6;
            sum += v;
            moment.add(a.add(b).add(c).mul(v / 4));
        }
        moment.fma(sum, origin);
        return sum;
    }

    private Vector3d set(Vector3d out, int corner) {
        int p = 3 * placeOf[corners[corner]];
        return out.set(x[p], x[p + 1], x[p + 2]);
    }

    /** Square of the distance of the place that is farthest from a point. */
    public double farthestSquared(Vector3d point) {
        double most = 0;
        for (int p = 0; p < places; p++) {
            most = Math.max(most, point.distanceSquared(x[3 * p], x[3 * p + 1], x[3 * p + 2]));
        }
        return most;
    }

    /**
     * Takes away what lies over a plane, and closes the hole. Cost: triangles, and the square of the corners of the outlines.
     *
     * @param normal of unit length, towards what goes
     * @param height of the plane along it
     * @param plane  number that the closing triangles carry, 0 or more
     */
    public void cut(Vector3d normal, double height, int plane) {
        double[] over = new double[places];
        boolean crosses = false;
        for (int p = 0; p < places; p++) {
            over[p] = normal.x * x[3 * p] + normal.y * x[3 * p + 1] + normal.z * x[3 * p + 2] - height;
            crosses |= over[p] > 0;
        }
        if (!crosses) {
            return;
        }
        int[] wereCorners = corners;
        int[] wereFaces = faces;
        int many = triangles;
        corners = new int[3 * many + 96];
        faces = new int[many + 32];
        triangles = 0;
        Edges edges = new Edges(over);
        List<int[]> rim = new ArrayList<>();
        for (int t = 0; t < many; t++) {
            int in = 0;
            for (int c = 0; c < 3; c++) {
                in += over[placeOf[wereCorners[3 * t + c]]] <= 0 ? 1 : 0;
            }
            if (in == 3) {
                add(wereFaces[t], wereCorners[3 * t], wereCorners[3 * t + 1], wereCorners[3 * t + 2]);
            } else if (in > 0) {
                int odd = 0;
                while ((over[placeOf[wereCorners[3 * t + odd]]] <= 0) != (in == 1)) {
                    odd++;
                }
                int a = wereCorners[3 * t + odd];
                int b = wereCorners[3 * t + (odd + 1) % 3];
                int c = wereCorners[3 * t + (odd + 2) % 3];
                int ab = edges.vertex(a, b);
                int ca = edges.vertex(a, c);
                if (in == 1) {
                    add(wereFaces[t], a, ab, ca);
                } else {
                    add(wereFaces[t], ab, b, c);
                    add(wereFaces[t], ab, c, ca);
                }
                rim.add(new int[] {placeOf[in == 1 ? ca : ab], placeOf[in == 1 ? ab : ca]});
            }
        }
        caps.replaceAll((of, outlines) ->
                left(outlines, Objects.requireNonNull(normals.get(of)).cross(normal, new Vector3d()), edges, rim));
        caps.put(plane, rim);
        caps.values().removeIf(List::isEmpty);
        normals.put(plane, new Vector3d(normal));
        compact();
    }

    /**
     * What a plane leaves of a cap's outlines; along the plane they go on, and the new cap's outline goes there the other way.
     *
     * @param along where both meet, with what stays of the cap at the left
     */
    private List<int[]> left(List<int[]> outlines, Vector3d along, Edges edges, List<int[]> rim) {
        List<int[]> out = new ArrayList<>();
        List<Integer> leaves = new ArrayList<>();
        List<Integer> comes = new ArrayList<>();
        for (int[] edge : outlines) {
            boolean from = edges.over[edge[0]] <= 0;
            boolean to = edges.over[edge[1]] <= 0;
            if (from && to) {
                out.add(edge);
            } else if (from) {
                int at = edges.place(edge[0], edge[1]);
                out.add(new int[] {edge[0], at});
                leaves.add(at);
            } else if (to) {
                int at = edges.place(edge[0], edge[1]);
                out.add(new int[] {at, edge[1]});
                comes.add(at);
            }
        }
        // Where an outline left it comes back next.
        Comparator<Integer> order =
                Comparator.comparingDouble(p -> along.x * x[3 * p] + along.y * x[3 * p + 1] + along.z * x[3 * p + 2]);
        leaves.sort(order);
        comes.sort(order);
        for (int i = 0; i < leaves.size(); i++) {
            int a = leaves.get(i);
            int b = comes.get(i);
            if (a != b) {
                out.add(new int[] {a, b});
                rim.add(new int[] {b, a});
            }
        }
        return out;
    }

    /** With its caps made triangles; what is cut after that has no fewer corners for it. */
    public Cut closed() {
        Cut out = copy();
        caps.forEach(
                (plane, outlines) -> out.close(loops(outlines), Objects.requireNonNull(normals.get(plane)), plane));
        out.caps.clear();
        return out;
    }

    private void add(int face, int a, int b, int c) {
        if (triangles == faces.length) {
            faces = Arrays.copyOf(faces, 2 * triangles + 8);
            corners = Arrays.copyOf(corners, 3 * faces.length);
        }
        corners[3 * triangles] = a;
        corners[3 * triangles + 1] = b;
        corners[3 * triangles + 2] = c;
        faces[triangles++] = face;
    }

    private int newPlace(double px, double py, double pz) {
        if (3 * places == x.length) {
            x = Arrays.copyOf(x, 2 * x.length + 24);
        }
        x[3 * places] = px;
        x[3 * places + 1] = py;
        x[3 * places + 2] = pz;
        return places++;
    }

    private int newVertex(int place) {
        if (vertices == placeOf.length) {
            placeOf = Arrays.copyOf(placeOf, 2 * vertices + 8);
            from = Arrays.copyOf(from, 3 * placeOf.length);
            share = Arrays.copyOf(share, 3 * placeOf.length);
        }
        placeOf[vertices] = place;
        Arrays.fill(from, 3 * vertices, 3 * vertices + 3, -1);
        Arrays.fill(share, 3 * vertices, 3 * vertices + 3, 0);
        return vertices++;
    }

    /** The points at which edges are cut, each made once. */
    private final class Edges {
        private final double[] over;
        private final Map<Long, Integer> cutPlaces = new HashMap<>();
        private final Map<Long, Integer> cutVertices = new HashMap<>();

        Edges(double[] over) {
            this.over = over;
        }

        int vertex(int a, int b) {
            Integer known = cutVertices.get(pair(a, b));
            if (known != null) {
                return known;
            }
            int low = placeOf[a] < placeOf[b] ? a : b;
            int high = low == a ? b : a;
            int p = placeOf[low];
            int q = placeOf[high];
            double t = share(p, q);
            int made = newVertex(place(p, q));
            mix(made, low, 1 - t);
            mix(made, high, t);
            cutVertices.put(pair(a, b), made);
            return made;
        }

        /** From the same end whoever asks, so that all that meet at an edge are cut at the same point. */
        int place(int a, int b) {
            int p = Math.min(a, b);
            int q = Math.max(a, b);
            Integer known = cutPlaces.get(pair(p, q));
            if (known != null) {
                return known;
            }
            double t = share(p, q);
            int made = newPlace(
                    x[3 * p] + t * (x[3 * q] - x[3 * p]),
                    x[3 * p + 1] + t * (x[3 * q + 1] - x[3 * p + 1]),
                    x[3 * p + 2] + t * (x[3 * q + 2] - x[3 * p + 2]));
            cutPlaces.put(pair(p, q), made);
            return made;
        }

        private double share(int p, int q) {
            return over[p] / (over[p] - over[q]);
        }

        /** Both ends are mixed of the corners of one triangle, so three slots are enough. */
        private void mix(int into, int vertex, double by) {
            for (int s = 0; s < 3; s++) {
                int of = from[3 * vertex + s];
                if (of < 0) {
                    continue;
                }
                int slot = 3 * into;
                while (from[slot] >= 0 && from[slot] != of) {
                    slot++;
                }
                from[slot] = of;
                share[slot] += by * share[3 * vertex + s];
            }
        }
    }

    /** At every place as many ends come in as go out, so every walk comes back. */
    private static List<int[]> loops(List<int[]> edges) {
        Map<Integer, List<Integer>> next = new HashMap<>();
        edges.forEach(e -> next.computeIfAbsent(e[0], k -> new ArrayList<>(1)).add(e[1]));
        List<int[]> out = new ArrayList<>();
        for (int start : next.keySet().stream().sorted().toList()) {
            List<Integer> heads = next.getOrDefault(start, List.of());
            while (!heads.isEmpty()) {
                List<Integer> loop = new ArrayList<>();
                int at = start;
                do {
                    loop.add(at);
                    at = next.getOrDefault(at, List.of()).removeLast();
                } while (at != start);
                if (loop.size() > 2) {
                    out.add(loop.stream().mapToInt(Integer::intValue).toArray());
                }
            }
        }
        return out;
    }

    private void close(List<int[]> loops, Vector3d normal, int plane) {
        if (loops.isEmpty()) {
            return;
        }
        Vector3d across = new Vector3d();
        across.setComponent(normal.minComponent(), 1);
        normal.cross(across, across).normalize();
        Vector3d up = normal.cross(across, new Vector3d());
        int[] all = loops.stream().flatMapToInt(Arrays::stream).toArray();
        List<double[]> flat = new ArrayList<>();
        for (int[] loop : loops) {
            double[] points = new double[2 * loop.length];
            for (int i = 0; i < loop.length; i++) {
                Vector3d p = at(loop[i]).sub(x[3 * all[0]], x[3 * all[0] + 1], x[3 * all[0] + 2]);
                points[2 * i] = across.dot(p);
                points[2 * i + 1] = up.dot(p);
            }
            flat.add(points);
        }
        Map<Integer, Integer> capVertices = new HashMap<>();
        Polygons.fill(
                flat,
                (a, b, c) -> add(
                        -1 - plane,
                        capVertices.computeIfAbsent(all[a], this::newVertex),
                        capVertices.computeIfAbsent(all[b], this::newVertex),
                        capVertices.computeIfAbsent(all[c], this::newVertex)));
    }

    /** Forgets places and vertices that no triangle has any more. */
    private void compact() {
        int[] newOf = new int[vertices];
        int[] newPlaceOf = new int[places];
        Arrays.fill(newOf, -1);
        Arrays.fill(newPlaceOf, -1);
        int kept = 0;
        int keptPlaces = 0;
        boolean[] used = new boolean[vertices];
        for (int i = 0; i < 3 * triangles; i++) {
            used[corners[i]] = true;
        }
        boolean[] usedPlace = new boolean[places];
        for (int v = 0; v < vertices; v++) {
            if (used[v]) {
                usedPlace[placeOf[v]] = true;
            }
        }
        for (List<int[]> outlines : caps.values()) {
            for (int[] edge : outlines) {
                usedPlace[edge[0]] = true;
            }
        }
        for (int p = 0; p < places; p++) {
            if (usedPlace[p]) {
                System.arraycopy(x, 3 * p, x, 3 * keptPlaces, 3);
                newPlaceOf[p] = keptPlaces++;
            }
        }
        for (int v = 0; v < vertices; v++) {
            if (used[v]) {
                placeOf[kept] = newPlaceOf[placeOf[v]];
                System.arraycopy(from, 3 * v, from, 3 * kept, 3);
                System.arraycopy(share, 3 * v, share, 3 * kept, 3);
                newOf[v] = kept++;
            }
        }
        for (int i = 0; i < 3 * triangles; i++) {
            corners[i] = newOf[corners[i]];
        }
        caps.replaceAll((plane, outlines) -> outlines.stream()
                .map(e -> new int[] {newPlaceOf[e[0]], newPlaceOf[e[1]]})
                .toList());
        vertices = kept;
        places = keptPlaces;
    }

    /**
     * The solids that it falls into once {@link #closed}, the largest first: what hangs together, each with the hollows inside it.
     */
    public List<Cut> solids() {
        int[] partOf = parts();
        int many = Arrays.stream(partOf).max().orElse(-1) + 1;
        if (many == 1) {
            return volume() > 0 ? List.of(this) : List.of();
        }
        List<Cut> parts = new ArrayList<>();
        for (int part = 0; part < many; part++) {
            parts.add(only(partOf, part));
        }
        parts.sort(Comparator.comparingDouble((Cut part) -> part.volume()).reversed());
        List<Cut> out =
                new ArrayList<>(parts.stream().filter(p -> p.volume() > 0).toList());
        for (Cut hollow : parts.subList(out.size(), parts.size())) {
            // Solids shrink along the list: the last whose box holds the hollow is the nearest around it.
            Box inner = hollow.box();
            for (int i = out.size() - 1; i >= 0; i--) {
                if (i == 0 || holds(out.get(i).box(), inner)) {
                    out.get(i).join(hollow);
                    break;
                }
            }
        }
        return out;
    }

    private Box box() {
        Box box = Box.empty();
        for (int p = 0; p < places; p++) {
            box.grow(x[3 * p], x[3 * p + 1], x[3 * p + 2]);
        }
        return box;
    }

    private static boolean holds(Box outer, Box inner) {
        return new Vector3d(outer.min()).min(inner.min()).equals(outer.min())
                && new Vector3d(outer.max()).max(inner.max()).equals(outer.max());
    }

    private int[] parts() {
        DisjointSets sets = new DisjointSets(places);
        for (int i = 0; i < 3 * triangles; i++) {
            sets.join(placeOf[corners[i]], placeOf[corners[i % 3 == 2 ? i - 2 : i + 1]]);
        }
        return sets.numbered();
    }

    private Cut only(int[] partOf, int part) {
        Cut out = copy();
        out.triangles = 0;
        for (int t = 0; t < triangles; t++) {
            if (partOf[placeOf[corners[3 * t]]] == part) {
                out.add(faces[t], corners[3 * t], corners[3 * t + 1], corners[3 * t + 2]);
            }
        }
        out.compact();
        return out;
    }

    private void join(Cut other) {
        int firstPlace = places;
        int firstVertex = vertices;
        for (int p = 0; p < other.places; p++) {
            newPlace(other.x[3 * p], other.x[3 * p + 1], other.x[3 * p + 2]);
        }
        for (int v = 0; v < other.vertices; v++) {
            int made = newVertex(firstPlace + other.placeOf[v]);
            System.arraycopy(other.from, 3 * v, from, 3 * made, 3);
            System.arraycopy(other.share, 3 * v, share, 3 * made, 3);
        }
        for (int t = 0; t < other.triangles; t++) {
            add(
                    other.faces[t],
                    firstVertex + other.corners[3 * t],
                    firstVertex + other.corners[3 * t + 1],
                    firstVertex + other.corners[3 * t + 2]);
        }
    }
}
