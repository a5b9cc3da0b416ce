package org.cleanmarrow.steps.intake;

import java.util.ArrayList;
import java.util.List;
import java.util.stream.IntStream;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Renumbering;
import org.cleanmarrow.query.Duplicates;
import org.cleanmarrow.surface.PrimitiveMerge;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/**
 * Paints all that has one of several materials with one of them, which leaves one slot of several. Texture coordinates stay: where the
 * materials have other pictures, what is painted so looks otherwise, and a note says it. Primitives that morph keep a slot of their own.
 */
@StepInfo(
        name = "merge-materials",
        says = "Paints with one material all that has one of several, so that one slot is left.")
public record MergeMaterials(
        @Parameter(says = "names of the materials that go") List<String> names,

        @Parameter(says = "name of the material that takes their place")
        String into)
        implements Step {
    public MergeMaterials {
        names = List.copyOf(names);
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        int kept = Names.material(asset, into);
        int[] look = Duplicates.ofMaterials(asset);
        int[] stands = IntStream.range(0, asset.materials().size()).toArray();
        List<String> otherwise = new ArrayList<>();
        long gone = 0;
        for (String name : names) {
            int m = Names.material(asset, name);
            if (m != kept && stands[m] != kept) {
                stands[m] = kept;
                gone++;
                if (look[m] != look[kept]) {
                    otherwise.add(name);
                }
            }
        }
        if (gone == 0) {
            throw new Refused("materials.one", into);
        }
        Renumbering numbers = Renumbering.NONE.sharing(Renumbering.Kind.MATERIAL, stands);
        Asset out = asset.renumbered(numbers);
        // Of several under one number the first would be kept.
        List<Material> materials = new ArrayList<>(out.materials());
        materials.set(
                numbers.of(Renumbering.Kind.MATERIAL, kept), asset.materials().get(kept));
        out = out.withMaterials(materials);
        long slots = 0;
        for (int m = 0; m < out.meshes().size(); m++) {
            Mesh mesh = out.meshes().get(m);
            List<Primitive> merged = PrimitiveMerge.byMaterial(mesh.primitives());
            if (touched(asset.meshes().get(m), stands)
                    && merged.size() < mesh.primitives().size()) {
                slots += mesh.primitives().size() - merged.size();
                out = out.withMesh(m, mesh.withPrimitives(merged), PrimitiveMerge.map(mesh.primitives()));
            }
        }
        Change change = Change.of(out).count("materials.merged", gone).count("slots.fewer", slots);
        return otherwise.isEmpty() ? change : change.note("materials.otherwise", String.join(", ", otherwise), into);
    }

    private static boolean touched(Mesh mesh, int[] stands) {
        return mesh.primitives().stream().anyMatch(p -> p.material() >= 0 && stands[p.material()] != p.material());
    }
}
