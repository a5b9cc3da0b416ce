package org.cleanmarrow.measure;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.text.Message;

/** What two assets do not share beside how they move: joints, names, order, materials, morph targets, attributes. */
final class Structure {
    /** Coordinates and colours nearer than this are the same; a hundredth of a pixel of a 1,024 map. */
    private static final double SAME = 1e-5;

    private static final int NAMED = 20;

    private final Asset a;
    private final Asset b;
    private final List<Message> out = new ArrayList<>();

    private Structure(Asset a, Asset b) {
        this.a = a;
        this.b = b;
    }

    /** Joints that only one side has, one sentence each. */
    static List<Message> joints(Asset a, Asset b) {
        List<Message> out = new ArrayList<>();
        List<String> ofA = jointNames(a);
        List<String> ofB = jointNames(b);
        onlyIn(ofA, ofB).forEach(n -> out.add(Message.of("probe.joint.first", n)));
        onlyIn(ofB, ofA).forEach(n -> out.add(Message.of("probe.joint.second", n)));
        return out;
    }

    private static List<String> jointNames(Asset asset) {
        boolean[] joint = asset.jointFlags();
        List<String> out = new ArrayList<>();
        for (int n = 0; n < joint.length; n++) {
            if (joint[n]) {
                out.add(asset.nodes().get(n).name());
            }
        }
        return out;
    }

    /** Of each name as many as the other list has fewer of. */
    private static List<String> onlyIn(List<String> names, List<String> others) {
        Map<String, Integer> there = new HashMap<>();
        others.forEach(n -> there.merge(n, 1, Integer::sum));
        List<String> out = new ArrayList<>();
        for (String name : names) {
            if (there.merge(name, -1, Integer::sum) < 0) {
                out.add(name);
            }
        }
        return out;
    }

    /** All else, one sentence each, given which use of a mesh is which. */
    static List<Message> of(Asset a, Asset b, MeshPairs meshes) {
        Structure s = new Structure(a, b);
        s.order(
                "mesh",
                a.meshes().stream().map(Mesh::name).toList(),
                b.meshes().stream().map(Mesh::name).toList());
        s.order("joint", jointNames(a), jointNames(b));
        s.order(
                "clip",
                a.clips().stream().map(Clip::name).toList(),
                b.clips().stream().map(Clip::name).toList());
        s.parents();
        s.materials();
        Set<List<Integer>> seen = new HashSet<>();
        for (MeshPairs.Pair pair : meshes.pairs) {
            if (seen.add(List.of(pair.a().mesh(), pair.b().mesh()))) {
                s.mesh(pair, meshes.byNearest(pair));
            }
        }
        return s.out.size() <= NAMED ? s.out : s.shortened();
    }

    private List<Message> shortened() {
        List<Message> some = new ArrayList<>(out.subList(0, NAMED));
        some.add(Message.of("probe.more", out.size() - NAMED));
        return some;
    }

    private void order(String kind, List<String> mine, List<String> theirs) {
        boolean sameNames = mine.size() == theirs.size() && onlyIn(mine, theirs).isEmpty();
        if (sameNames && !mine.equals(theirs)) {
            int first = 0;
            while (mine.get(first).equals(theirs.get(first))) {
                first++;
            }
            out.add(Message.of("probe.order." + kind, first, mine.get(first), theirs.get(first)));
        }
    }

    /** Joints of one name that hang on joints of other names. */
    private void parents() {
        Map<String, String> above = new HashMap<>();
        jointParents(b).forEach(above::put);
        jointParents(a).forEach((joint, parent) -> {
            String other = above.getOrDefault(joint, parent);
            if (!other.equals(parent)) {
                out.add(Message.of(
                        "probe.parent", joint, parent.isEmpty() ? "–" : parent, other.isEmpty() ? "–" : other));
            }
        });
    }

    private static Map<String, String> jointParents(Asset asset) {
        boolean[] joint = asset.jointFlags();
        int[] parents = asset.parents();
        Map<String, String> out = new LinkedHashMap<>();
        Set<String> twice = new HashSet<>();
        for (int n = 0; n < joint.length; n++) {
            if (joint[n]) {
                boolean hangs = parents[n] >= 0 && joint[parents[n]];
                String name = asset.nodes().get(n).name();
                if (out.put(name, hangs ? asset.nodes().get(parents[n]).name() : "") != null) {
                    twice.add(name);
                }
            }
        }
        out.keySet().removeAll(twice);
        return out;
    }

    private void materials() {
        List<String> mine = a.materials().stream().map(Material::name).toList();
        List<String> theirs = b.materials().stream().map(Material::name).toList();
        onlyIn(mine, theirs).forEach(n -> out.add(Message.of("probe.material.first", n)));
        onlyIn(theirs, mine).forEach(n -> out.add(Message.of("probe.material.second", n)));
        order("material", mine, theirs);
    }

    private void mesh(MeshPairs.Pair pair, boolean byNearest) {
        Mesh x = a.meshes().get(pair.a().mesh());
        Mesh y = b.meshes().get(pair.b().mesh());
        String name = pair.a().label(a);
        List<String> mine = targets(x);
        List<String> theirs = targets(y);
        onlyIn(mine, theirs).forEach(t -> out.add(Message.of("probe.target.first", name, t)));
        onlyIn(theirs, mine).forEach(t -> out.add(Message.of("probe.target.second", name, t)));
        order("target", mine, theirs);
        String used = materialsOf(a, x);
        String other = materialsOf(b, y);
        if (!used.equals(other)) {
            out.add(Message.of("probe.material.used", name, used, other));
        }
        if (!byNearest && x.primitives().size() == y.primitives().size()) {
            for (int i = 0; i < x.primitives().size(); i++) {
                attributes(name, x.primitives().get(i), y.primitives().get(i));
            }
        }
    }

    private static List<String> targets(Mesh mesh) {
        List<String> out = new ArrayList<>();
        for (int t = 0; t < mesh.targetCount(); t++) {
            out.add(t < mesh.targetNames().size() ? mesh.targetNames().get(t) : "#" + t);
        }
        return out;
    }

    private static String materialsOf(Asset asset, Mesh mesh) {
        List<String> out = new ArrayList<>();
        for (Primitive p : mesh.primitives()) {
            String name =
                    p.material() < 0 ? "–" : asset.materials().get(p.material()).name();
            // How many pieces share a material in a row is the file's own matter.
            if (out.isEmpty() || !out.getLast().equals(name)) {
                out.add(name);
            }
        }
        return String.join(", ", out);
    }

    private void attributes(String mesh, Primitive p, Primitive q) {
        for (Attribute mine : p.attributes()) {
            Optional<Attribute> other = q.attribute(mine.name());
            if (other.isEmpty()) {
                out.add(Message.of("probe.attribute.lost", mesh, mine.name()));
            } else if (p.vertexCount() == q.vertexCount()
                    && mine.width() == other.get().width()) {
                double most = 0;
                for (int i = 0; i < mine.values().length; i++) {
                    most = Math.max(most, apart(mine.values()[i], other.get().values()[i]));
                }
                if (!(most <= SAME)) {
                    out.add(Message.of("probe.attribute.differs", mesh, mine.name(), most));
                }
            }
        }
    }

    private static double apart(float x, float y) {
        double d = Math.abs((double) x - y);
        return Float.compare(x, y) == 0 ? 0 : Double.isNaN(d) ? Double.POSITIVE_INFINITY : d;
    }
}
