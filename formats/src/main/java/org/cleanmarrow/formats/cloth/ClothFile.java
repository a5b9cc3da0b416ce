package org.cleanmarrow.formats.cloth;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.cleanmarrow.cloth.ClothSection;
import org.cleanmarrow.cloth.Fabric;
import org.cleanmarrow.cloth.Strays;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.file.Written;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attached;
import org.cleanmarrow.model.Extras;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Primitive;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

/**
 * Cloth sections as JSON: in {@code extras.cloth} of a node (glTF 2.0, 3.2), and in a file {@code <name>.cloth.json} beside a
 * model of any format, where strays are listed by vertex. Lengths are metres. What is out of range is left behind, and said.
 */
public final class ClothFile {
    private static final String KEY = "cloth";
    private static final String ENDING = ".cloth.json";
    private static final String UNREAD = "is no JSON that can be read; mend it or take it away";
    private static final long MOST_BYTES = 64L << 20;
    private static final JsonNodeFactory MAKE = JsonNodeFactory.instance;

    private ClothFile() {}

    /** The asset with its sections in the extras of their nodes, in place of what was attached. */
    public static Asset spelled(Asset asset) {
        if (asset.attached(ClothSection.class).isEmpty()) {
            return asset;
        }
        List<ClothSection> sections = ClothSection.all(asset);
        List<Node> nodes = new ArrayList<>(asset.nodes());
        for (ClothSection s : sections.reversed()) {
            Node node = nodes.get(s.node());
            nodes.set(s.node(), node.withCarried(Extras.with(node.carried(), KEY, json(asset, s))));
        }
        List<Attached> others = new ArrayList<>(asset.attached());
        others.removeIf(ClothSection.class::isInstance);
        return asset.withNodes(nodes).withAttached(others);
    }

    /** The asset with what the extras of its nodes say of cloth attached. @param notes gets what could not be taken over */
    public static Asset read(Asset asset, List<String> notes) {
        List<Node> nodes = new ArrayList<>(asset.nodes());
        List<Attached> all = new ArrayList<>(asset.attached());
        for (int n = 0; n < nodes.size(); n++) {
            Node node = nodes.get(n);
            JsonNode said = Extras.of(node.carried(), KEY);
            if (!said.isObject() || node.mesh() < 0) {
                continue;
            }
            Optional<Fabric> fabric = fabric(said);
            if (fabric.isEmpty()) {
                notes.add("nodes[" + n
                        + "].extras.cloth: has a number that is none or out of range, and was left as it is");
                continue;
            }
            all.add(new ClothSection(n, fabric.get()));
            nodes.set(n, node.withCarried(Extras.with(node.carried(), KEY, null)));
        }
        return all.size() == asset.attached().size()
                ? asset
                : asset.withNodes(nodes).withAttached(all);
    }

    /** What a format makes of an asset, with the file beside its model where something is cloth: reading the model then gives that too. */
    public static List<Written.Piece> with(List<Written.Piece> pieces, Asset asset, String base) {
        Optional<Written.Piece> beside = beside(asset, base);
        if (beside.isEmpty()) {
            return pieces;
        }
        List<Written.Piece> out = new ArrayList<>();
        for (Written.Piece piece : pieces) {
            boolean model = piece.name().startsWith(base + ".") && piece.name().lastIndexOf('.') == base.length();
            out.add(model && piece.meant() != null ? meaning(piece, piece.meant(), beside.get()) : piece);
        }
        out.add(beside.get());
        return out;
    }

    private static Written.Piece meaning(Written.Piece model, Asset meant, Written.Piece beside) {
        try {
            return new Written.Piece(model.name(), model.bytes(), with(meant, beside.bytes(), beside.name()));
        } catch (ReadFailed e) {
            throw new IllegalStateException(e);
        }
    }

    /** The file beside a model; empty where nothing is cloth. */
    private static Optional<Written.Piece> beside(Asset asset, String base) {
        List<ClothSection> sections = ClothSection.all(asset);
        if (sections.isEmpty()) {
            return Optional.empty();
        }
        ObjectNode root = MAKE.objectNode();
        ArrayNode list = root.putArray(KEY);
        for (ClothSection s : sections) {
            ObjectNode one = json(asset, s);
            ArrayNode strays = one.putArray("strays");
            for (float stray :
                    Strays.of(asset.meshes().get(asset.nodes().get(s.node()).mesh()))) {
                strays.add(stray);
            }
            list.add(one);
        }
        String text = JsonMapper.shared().writerWithDefaultPrettyPrinter().writeValueAsString(root) + "\n";
        return Optional.of(new Written.Piece(base + ENDING, text.getBytes(StandardCharsets.UTF_8), null));
    }

    /**
     * The asset with what the file beside it says, where there is one and the model itself says nothing of cloth.
     *
     * @throws ReadFailed where the file is broken
     */
    public static Asset withBeside(Asset asset, Path model) throws ReadFailed {
        String name = String.valueOf(model.getFileName());
        int dot = name.lastIndexOf('.');
        Path file = model.resolveSibling((dot < 0 ? name : name.substring(0, dot)) + ENDING);
        if (!ClothSection.all(asset).isEmpty() || !Files.isRegularFile(file)) {
            return asset;
        }
        String called = String.valueOf(file.getFileName());
        try {
            if (Files.size(file) > MOST_BYTES) {
                throw new ReadFailed(called, "", "is more than " + (MOST_BYTES >> 20) + " MB long");
            }
            return with(asset, Files.readAllBytes(file), called);
        } catch (IOException e) {
            throw new ReadFailed(called, "", UNREAD);
        }
    }

    /** The asset with what such a file says, unless it says something of cloth itself. */
    private static Asset with(Asset asset, byte[] json, String called) throws ReadFailed {
        if (!ClothSection.all(asset).isEmpty()) {
            return asset;
        }
        JsonNode root;
        try {
            root = JsonMapper.shared().readTree(json);
        } catch (JacksonException e) {
            throw new ReadFailed(called, "", UNREAD);
        }
        Asset out = asset;
        List<String> notes = new ArrayList<>(asset.notes());
        for (JsonNode one : root.path(KEY)) {
            Optional<Fabric> fabric = fabric(one);
            int n = part(out, one.path("part").asString(""));
            if (n < 0 || fabric.isEmpty()) {
                notes.add(called + ": what it says of \"" + one.path("part").asString("")
                        + "\" fits no part, or has a number out of range, and was left behind");
                continue;
            }
            List<Attached> all = new ArrayList<>(out.attached());
            all.add(new ClothSection(n, fabric.get()));
            out = strayed(out, n, one.path("strays"), called, notes).withAttached(all);
        }
        return out.withNotes(notes);
    }

    private static Asset strayed(Asset asset, int node, JsonNode said, String called, List<String> notes) {
        int m = asset.nodes().get(node).mesh();
        Mesh mesh = asset.meshes().get(m);
        if (said.size() != mesh.vertexCount()) {
            notes.add(called + ": has " + said.size() + " strays for the " + mesh.vertexCount() + " vertices of "
                    + asset.meshRef(m) + ", and they were left behind");
            return asset;
        }
        float[] strays = new float[said.size()];
        for (int v = 0; v < strays.length; v++) {
            strays[v] = (float) Math.clamp(said.get(v).asDouble(1), 0, 1);
        }
        return asset.withMesh(m, Strays.with(mesh, strays));
    }

    /** The part of a name, by its node or its mesh. */
    private static int part(Asset asset, String name) {
        int found = -1;
        for (int n = 0; n < asset.nodes().size(); n++) {
            Node node = asset.nodes().get(n);
            boolean own = node.name().equals(name);
            if (node.mesh() >= 0
                    && (own || found < 0 && asset.meshRef(node.mesh()).equals(name))) {
                found = n;
                if (own) {
                    return n;
                }
            }
        }
        return found;
    }

    private static ObjectNode json(Asset asset, ClothSection s) {
        Fabric f = s.fabric();
        int mesh = asset.nodes().get(s.node()).mesh();
        ObjectNode out = MAKE.objectNode();
        out.put("part", asset.nodeRef(s.node()));
        if (mesh >= 0) {
            ArrayNode slots = out.putArray("materials");
            for (Primitive p : asset.meshes().get(mesh).primitives()) {
                slots.add(
                        p.material() < 0
                                ? ""
                                : asset.materials().get(p.material()).name());
            }
        }
        out.put("reachMetres", f.reach());
        out.put("thicknessMetres", f.thickness());
        out.put("stretchMetresANewton", f.stretch());
        out.put("bendMetresANewton", f.bend());
        out.put("dampingASecond", f.damping());
        out.put("friction", f.friction());
        out.put("gravity", f.gravity());
        out.put("substeps", f.substeps());
        out.put("itself", f.itself());
        return out;
    }

    private static Optional<Fabric> fabric(JsonNode said) {
        Fabric p = Fabric.PLAIN;
        Fabric out = new Fabric(
                number(said, "reachMetres", p.reach()),
                number(said, "thicknessMetres", p.thickness()),
                number(said, "stretchMetresANewton", p.stretch()),
                number(said, "bendMetresANewton", p.bend()),
                number(said, "dampingASecond", p.damping()),
                number(said, "friction", p.friction()),
                number(said, "gravity", p.gravity()),
                (int) number(said, "substeps", p.substeps()),
                said.path("itself").asBoolean(p.itself()));
        return out.sound() ? Optional.of(out) : Optional.empty();
    }

    private static double number(JsonNode said, String key, double otherwise) {
        JsonNode is = said.path(key);
        return is.isMissingNode() ? otherwise : is.isNumber() ? is.asDouble() : Double.NaN;
    }
}
