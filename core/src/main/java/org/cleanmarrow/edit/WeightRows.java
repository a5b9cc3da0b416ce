package org.cleanmarrow.edit;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.naming.NamePattern;
import org.cleanmarrow.weights.Row;
import org.cleanmarrow.work.Refused;

/** Rewrites influence rows of a mesh; rows that are not chosen keep their weights bit for bit. */
public final class WeightRows {
    private WeightRows() {}

    /** Makes a new row from an old one. */
    public interface Edit {
        /**
         * @param row to be changed in place: entries added, removed, reweighted
         * @return false where the row is to stay as it was
         */
        boolean edit(Row row, int vertex);
    }

    /** Skinned meshes that a step with an optional mesh name works on. */
    public static int[] meshes(Asset asset, String nameOrEmpty) throws Refused {
        if (!nameOrEmpty.isEmpty()) {
            return new int[] {Names.skinnedMesh(asset, nameOrEmpty)};
        }
        return java.util.stream.IntStream.range(0, asset.meshes().size())
                .filter(m -> asset.skinOfMesh(m) >= 0 && asset.meshes().get(m).skinned())
                .toArray();
    }

    public static Skin skin(Asset asset, int mesh) {
        return asset.skins().get(asset.skinOfMesh(mesh));
    }

    /** Positions in a skin of the joints that patterns name, with commas between them. */
    public static BitSet locked(Asset asset, Skin skin, String patterns) {
        BitSet out = new BitSet();
        NamePattern any = new NamePattern(patterns);
        for (int j = 0; j < skin.joints().length; j++) {
            out.set(j, any.fits(asset.nodes().get(skin.joints()[j]).name()));
        }
        return out;
    }

    /** The mesh with the chosen vertices' rows edited; {@code counted[0]} grows by the rows that changed. */
    public static Mesh edit(Mesh mesh, BitSet vertices, Edit edit, long[] counted) {
        Map<Influences, BitSet> rows = new LinkedHashMap<>();
        Map<Influences, Integer> firstVertex = new LinkedHashMap<>();
        int first = 0;
        for (Primitive p : mesh.primitives()) {
            if (p.influences() != null) {
                BitSet local = vertices.get(first, first + p.vertexCount());
                rows.computeIfAbsent(p.influences(), k -> new BitSet()).or(local);
                firstVertex.putIfAbsent(p.influences(), first);
            }
            first += p.vertexCount();
        }
        Map<Influences, Influences> edited = new LinkedHashMap<>();
        rows.forEach((old, chosen) ->
                edited.put(old, edit(old, chosen, edit, Objects.requireNonNull(firstVertex.get(old)), counted)));
        List<Primitive> primitives = new ArrayList<>();
        for (Primitive p : mesh.primitives()) {
            Influences now = p.influences() == null ? null : edited.get(p.influences());
            primitives.add(now == p.influences() ? p : p.withInfluences(now));
        }
        return counted[0] == 0 ? mesh : mesh.withPrimitives(primitives);
    }

    private static Influences edit(Influences old, BitSet chosen, Edit edit, int first, long[] counted) {
        Influences.Builder builder = new Influences.Builder(old.vertexCount());
        Row row = new Row();
        long before = counted[0];
        int copied = 0;
        for (int v = chosen.nextSetBit(0); v >= 0; v = chosen.nextSetBit(v + 1)) {
            row.clear();
            row.load(old, v);
            if (!edit.edit(row, first + v)) {
                continue;
            }
            counted[0]++;
            builder.copyRows(old, copied, v);
            copied = v + 1;
            row.to(builder);
        }
        builder.copyRows(old, copied, old.vertexCount());
        return counted[0] == before ? old : builder.build();
    }
}
