package org.cleanmarrow.measure;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.model.Attached;
import org.cleanmarrow.text.Length;
import org.cleanmarrow.text.Message;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/** Attached things of any kind, by kind and name, those of one name in their order; compared by the points they give. */
final class AttachedFacet implements Facet {
    private final Side a;
    private final Side b;
    private final List<Attached[]> pairs = new ArrayList<>();
    private final List<Message> unmatched = new ArrayList<>();

    private record Key(Class<?> kind, String name, int points) {}

    AttachedFacet(Side a, Side b) {
        this.a = a;
        this.b = b;
        Map<Key, ArrayDeque<Attached>> byKey = new HashMap<>();
        b.asset
                .attached()
                .forEach(t ->
                        byKey.computeIfAbsent(key(t), k -> new ArrayDeque<>()).add(t));
        for (Attached thing : a.asset.attached()) {
            Attached twin = byKey.getOrDefault(key(thing), new ArrayDeque<>()).poll();
            if (twin == null) {
                unmatched.add(Message.of("probe.thing.first", thing.name()));
            } else {
                pairs.add(new Attached[] {thing, twin});
            }
        }
        byKey.values().forEach(left -> left.forEach(t -> unmatched.add(Message.of("probe.thing.second", t.name()))));
    }

    private static Key key(Attached thing) {
        return new Key(thing.getClass(), thing.name(), thing.points().length);
    }

    /** What only one side has. */
    List<Message> unmatched() {
        return unmatched;
    }

    @Override
    public int size() {
        return pairs.size();
    }

    @Override
    public String name(int pair) {
        return pairs.get(pair)[0].name();
    }

    @Override
    public Message moved(int pair, double metres) {
        return Message.of("probe.moved.thing.any", name(pair), new Length(metres));
    }

    @Override
    public double apart(int pair, Matrix4d[] worldA, Matrix4d[] worldB) {
        Attached x = pairs.get(pair)[0];
        Attached y = pairs.get(pair)[1];
        Matrix4d there = new Matrix4d(a.view).mul(worldA[x.node()]);
        Matrix4d here = new Matrix4d(b.view).mul(worldB[y.node()]);
        Vector3d[] from = moved(x.points(), there);
        Vector3d[] to = moved(y.points(), here);
        double most = 0;
        for (int i = 0; i < from.length; i++) {
            most = Math.max(most, JointFacet.distance(from[i], to[i]));
        }
        return x.pointsInOrder() ? most : Math.min(most, Math.max(farthest(from, to), farthest(to, from)));
    }

    private static Vector3d[] moved(float[] points, Matrix4d by) {
        Vector3d[] out = new Vector3d[points.length / 3];
        for (int i = 0; i < out.length; i++) {
            out[i] = by.transformPosition(new Vector3d(points[3 * i], points[3 * i + 1], points[3 * i + 2]));
        }
        return out;
    }

    /** How far a point of one form is from its nearest of the other, at most. */
    private static double farthest(Vector3d[] from, Vector3d[] to) {
        double most = 0;
        for (Vector3d p : from) {
            double least = Double.POSITIVE_INFINITY;
            for (Vector3d q : to) {
                least = Math.min(least, JointFacet.distance(p, q));
            }
            most = Math.max(most, least);
        }
        return most;
    }
}
