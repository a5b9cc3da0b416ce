package org.cleanmarrow.desktop.viewport;

import java.util.BitSet;
import java.util.Locale;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.query.VertexChoice;
import org.cleanmarrow.surface.MeshTopology;

/**
 * What a click would take, found before it is clicked, and lit: vertices of a mesh, or a joint.
 *
 * @param kind  what is taken
 * @param mesh  of the vertices, -1 for a joint or nothing
 * @param about number of the island, triangle or vertex; the same aim as long as this is the same
 * @param joint node of the joint, or -1
 */
record Aim(Kind kind, int mesh, BitSet vertices, int about, int joint, Picker.Hit hit) {
    static final Aim NOTHING = new Aim(Kind.NOTHING, -1, new BitSet(), -1, -1, null);

    /** What a click takes. */
    enum Kind {
        NOTHING,
        VERTEX,
        FACE,
        ISLAND,
        PART,
        JOINT
    }

    static Aim ofJoint(int node) {
        return new Aim(Kind.JOINT, -1, new BitSet(), node, node, null);
    }

    /** What a click on a surface takes; what was found before is kept where it is the same. */
    static Aim of(Asset asset, Picker picker, Chooser.Reach reach, Picker.Hit hit, Aim before) {
        int mesh = hit.place().mesh();
        MeshTopology topology = MeshTopology.of(asset.meshes().get(mesh));
        Kind kind = Kind.valueOf(reach.name());
        int about = switch (reach) {
            case VERTEX -> topology.weldedOf(hit.vertex());
            case FACE -> hit.triangle();
            case ISLAND -> topology.islandOf(hit.vertex());
            case PART -> 0;
        };
        if (before.kind == kind && before.mesh == mesh && before.about == about) {
            return new Aim(kind, mesh, before.vertices, about, -1, hit);
        }
        BitSet one = new BitSet();
        one.set(hit.vertex());
        BitSet vertices = switch (reach) {
            case VERTEX -> topology.sameWelded(one);
            case FACE -> picker.face(hit);
            case ISLAND -> topology.islandsOf(one);
            case PART -> VertexChoice.all(asset.meshes().get(mesh));
        };
        return new Aim(kind, mesh, vertices, about, -1, hit);
    }

    /** What it is, and below it the weight that the joint in hand has there. */
    Overlay.Readout readout(Desk desk, double x, double y) {
        Asset asset = desk.now();
        if (kind == Kind.JOINT) {
            return new Overlay.Readout(
                    x,
                    y,
                    Labels.of("aim.joint"),
                    Ink.shortened(asset.nodes().get(joint).name()));
        }
        String part = Ink.shortened(hit.place().label(asset));
        String what =
                Labels.of("aim." + kind.name().toLowerCase(Locale.ROOT), part, vertices.cardinality(), hit.vertex());
        int node = desk.selection().jointNode();
        if (node < 0 || hit.place().skin() < 0) {
            return new Overlay.Readout(x, y, what, Labels.of("viewport.vertex", hit.vertex()));
        }
        int number = asset.skins().get(hit.place().skin()).indexOfNode(node);
        float weight = number < 0 ? 0 : weight(asset, hit, number);
        String name = Ink.shortened(asset.nodes().get(node).name());
        return new Overlay.Readout(x, y, what, name + String.format(Locale.ROOT, " %.2f", weight));
    }

    private static float weight(Asset asset, Picker.Hit hit, int joint) {
        int vertex = hit.vertex();
        for (Primitive p : asset.meshes().get(hit.place().mesh()).primitives()) {
            if (vertex < p.vertexCount()) {
                Influences rows = p.influences();
                return rows == null ? 0 : rows.weight(vertex, joint);
            }
            vertex -= p.vertexCount();
        }
        return 0;
    }
}
