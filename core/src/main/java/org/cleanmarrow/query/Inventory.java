package org.cleanmarrow.query;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Primitive;

/** Everything an asset holds, item by item, as it is listed for people and swept by kind. */
public final class Inventory {
    private Inventory() {}

    /** What an item is. A node is the first of these that fits. */
    public enum Kind {
        PART,
        JOINT,
        CAMERA,
        LIGHT,
        MARKER,
        HELPER,
        CLIP
    }

    /**
     * One item.
     *
     * @param index     of the node, or of the clip
     * @param ref       what ledgers call it
     * @param triangles of a part; otherwise 0
     * @param vertices  of a part; of a joint how many vertices it moves
     * @param movers    joints that move a part; channels of a clip
     */
    public record Item(Kind kind, int index, String ref, int triangles, int vertices, int movers, boolean ships) {}

    /** Every node and clip, nodes first, in their order. */
    public static List<Item> of(Asset asset) {
        List<Item> out = new ArrayList<>();
        boolean[] joint = asset.jointFlags();
        String[] refs = asset.nodeRefs();
        int[] moved = verticesMoved(asset);
        for (int n = 0; n < refs.length; n++) {
            Node node = asset.nodes().get(n);
            Kind kind = kindOf(node, joint[n]);
            boolean part = kind == Kind.PART;
            Optional<Mesh> mesh = part ? Optional.of(asset.meshes().get(node.mesh())) : Optional.empty();
            out.add(new Item(
                    kind,
                    n,
                    refs[n],
                    mesh.map(Mesh::triangleCount).orElse(0),
                    mesh.map(Mesh::vertexCount).orElse(moved[n]),
                    part ? movers(asset, node) : 0,
                    node.ships()));
        }
        for (int c = 0; c < asset.clips().size(); c++) {
            Clip clip = asset.clips().get(c);
            out.add(new Item(
                    Kind.CLIP, c, clipRef(asset, c), 0, 0, clip.channels().size(), clip.ships()));
        }
        return out;
    }

    /** What to call a clip: its name where it is the only one of that name, otherwise {@code #number}. */
    public static String clipRef(Asset asset, int clip) {
        String name = asset.clips().get(clip).name();
        long same = asset.clips().stream().filter(c -> c.name().equals(name)).count();
        return name.isEmpty() || same > 1 ? "#" + clip : name;
    }

    static Kind kindOf(Node node, boolean joint) {
        if (node.mesh() >= 0) {
            return Kind.PART;
        }
        if (joint) {
            return Kind.JOINT;
        }
        if (node.camera() >= 0) {
            return Kind.CAMERA;
        }
        if (!node.carried().extension("KHR_lights_punctual").isMissingNode()) {
            return Kind.LIGHT;
        }
        return isMarker(node.name()) ? Kind.MARKER : Kind.HELPER;
    }

    /** Markers of optical capture are known by their names alone (common practice). */
    private static boolean isMarker(String name) {
        String plain = name.substring(name.lastIndexOf(':') + 1).toLowerCase(Locale.ROOT);
        return plain.contains("marker") || plain.matches("(mkr|mrk)[_.-]?.*|.*[_.-](mkr|mrk)\\d*");
    }

    private static int movers(Asset asset, Node node) {
        return node.skin() < 0
                ? 0
                : Movers.positions(asset.meshes().get(node.mesh())).cardinality();
    }

    /** How many vertices each node moves through skins. */
    public static int[] verticesMoved(Asset asset) {
        int[] counts = new int[asset.nodes().size()];
        for (Node node : asset.nodes()) {
            if (node.mesh() < 0 || node.skin() < 0) {
                continue;
            }
            int[] list = asset.skins().get(node.skin()).joints();
            for (Primitive p : asset.meshes().get(node.mesh()).primitives()) {
                for (int i = 0; p.influences() != null && i < p.influences().joints().length; i++) {
                    counts[list[p.influences().joints()[i]]]++;
                }
            }
        }
        return counts;
    }
}
