package org.cleanmarrow.steps.collision;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.Filter;
import org.cleanmarrow.collision.Frame;
import org.cleanmarrow.collision.Shape;
import org.cleanmarrow.collision.ShapeFit;
import org.cleanmarrow.collision.Surface;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attached;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Renumbering;
import org.cleanmarrow.naming.NamePattern;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;

/**
 * Takes parts that stand for others by their names out of what is drawn, and makes them collision shapes: a rule such as
 * {@code *_collision} names them, and what the sign stands for names the part that they stand for, a number at its end aside. Where there is no such part, the
 * shape stays at its own node.
 */
@StepInfo(
        name = "shapes-from-parts",
        says = "Makes parts that a name rule says collision shapes of those they stand for.")
public record ShapesFromParts(
        @Parameter(says = "name rule of the parts, with * for the name of what they stand for")
        String rule,

        @Parameter(
                says = "mesh: as it is; hull, box, sphere, capsule or best: the least volume around it",
                fallback = "\"hull\"")
        Kind kind,

        @Parameter(
                says = "solid, trigger (says that something is inside) or query (found by rays alone)",
                fallback = "\"solid\"")
        Collider.Role role)
        implements Step {
    /** What becomes of a part. */
    public enum Kind {
        MESH,
        HULL,
        BOX,
        SPHERE,
        CAPSULE,
        BEST
    }

    private static final int CORNERS = 255;
    private static final Pattern NUMBER = Pattern.compile("_\\d+$");

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (!rule.contains("*") || rule.strip().length() < 2) {
            throw new Refused("shapes.rule", rule);
        }
        NamePattern names = new NamePattern(rule);
        Matrix4d[] world = new Rig(asset).rest().world();
        Map<String, Integer> byName = new HashMap<>();
        for (int n = 0; n < asset.nodes().size(); n++) {
            byName.putIfAbsent(asset.nodes().get(n).name(), n);
        }
        List<Attached> all = new ArrayList<>(asset.attached());
        List<Node> nodes = new ArrayList<>(asset.nodes());
        List<String> skinned = new ArrayList<>();
        BitSet emptied = new BitSet();
        BitSet keyed = new BitSet();
        asset.clips().stream()
                .flatMap(clip -> clip.channels().stream())
                .filter(c -> c.node() >= 0)
                .forEach(c -> keyed.set(c.node()));
        int done = 0;
        int alone = 0;
        for (int n = 0; n < nodes.size(); n++) {
            work.stopIfCancelled();
            Node node = asset.nodes().get(n);
            Optional<String> stem = node.mesh() < 0 ? Optional.empty() : names.replaced(node.name(), "*");
            if (stem.isEmpty()) {
                continue;
            }
            if (node.skin() >= 0) {
                skinned.add(asset.nodeRef(n));
                continue;
            }
            Optional<Collider> made = asset.cachedNodes().get(n) ? Optional.empty() : made(asset, n);
            if (made.isEmpty()) {
                continue;
            }
            int own = byName.getOrDefault(
                    stem.get(), byName.getOrDefault(NUMBER.matcher(stem.get()).replaceFirst(""), -1));
            // What moves by keys of its own goes on doing so.
            int at = own >= 0 && own != n && !keyed.get(n) ? own : n;
            alone += at == n ? 1 : 0;
            Matrix4d there = world[at].invert(new Matrix4d()).mul(world[n]);
            all.add(at == n ? made.get() : made.get().moved(there).withNode(at));
            emptied.set(n);
            nodes.set(n, node.withMesh(-1, -1));
            done++;
        }
        if (done == 0) {
            throw new Refused(skinned.isEmpty() ? "shapes.from.none" : "shapes.from.skinned", rule);
        }
        Change change = Change.of(without(asset.withNodes(nodes).withAttached(all), emptied))
                .count("shapes.from.parts", done);
        change = alone == 0 ? change : change.count("shapes.at.their.own", alone);
        return skinned.isEmpty() ? change : change.note("shapes.from.skinned", String.join(", ", skinned));
    }

    private Optional<Collider> made(Asset asset, int n) {
        Node node = asset.nodes().get(n);
        Mesh mesh = asset.meshes().get(node.mesh());
        Collider plain =
                new Collider(node.name(), n, Frame.NONE, new Shape.Drawn(false), role, Surface.PLAIN, Filter.ALL);
        if (kind == Kind.MESH) {
            float[] points = MeshTopology.restPositions(mesh);
            int[] corners = MeshTopology.of(mesh).corners();
            return corners.length == 0
                    ? Optional.empty()
                    : Optional.of(plain.withShape(Frame.NONE, new Shape.Solid(points, corners, false)));
        }
        return ShapeFit.of(MovedPoints.of(mesh), ShapeFit.Kind.valueOf(kind.name()), null, 1, CORNERS)
                .map(fit -> plain.withShape(fit.frame(), fit.shape()));
    }

    /** Without nodes at which nothing is left, and without meshes that stood at these alone. */
    private static Asset without(Asset asset, BitSet emptied) {
        BitSet nodes = new BitSet();
        nodes.set(0, asset.nodes().size());
        BitSet borne = new BitSet();
        asset.attached().forEach(a -> borne.set(a.node()));
        boolean[] joint = asset.jointFlags();
        emptied.stream()
                .filter(n -> asset.nodes().get(n).children().length == 0 && !borne.get(n) && !joint[n])
                .forEach(nodes::clear);
        BitSet meshes = new BitSet();
        asset.nodes().stream().filter(n -> n.mesh() >= 0).forEach(n -> meshes.set(n.mesh()));
        return asset.renumbered(Renumbering.NONE
                .keeping(Renumbering.Kind.NODE, nodes, asset.nodes().size())
                .keeping(Renumbering.Kind.MESH, meshes, asset.meshes().size()));
    }
}
