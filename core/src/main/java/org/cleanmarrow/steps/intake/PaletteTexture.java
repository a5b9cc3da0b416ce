package org.cleanmarrow.steps.intake;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeSet;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Image;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.model.Texture;
import org.cleanmarrow.naming.NamePattern;
import org.cleanmarrow.picture.Png;
import org.cleanmarrow.picture.Srgb;
import org.cleanmarrow.query.Unused;
import org.cleanmarrow.surface.PrimitiveMerge;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/**
 * Makes one material with a small picture of many that are a plain colour each: every colour has a field of the picture,
 * and texture coordinates of what was painted with it are put in the middle of that field. Materials that differ in more
 * than their colour keep apart.
 */
@StepInfo(name = "palette-texture", says = "Makes one material with a palette picture of flat-coloured materials.")
public record PaletteTexture(
        @Parameter(says = "names of the parts, with * for any run of characters", fallback = "\"*\"")
        String parts,

        @Parameter(says = "name of the new material", fallback = "\"palette\"")
        String name)
        implements Step {
    private static final int FIELD = 8;

    /** What materials of one palette have in common. */
    private record Family(boolean doubleSided, Passthrough carried) {}

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        NamePattern pattern = new NamePattern(parts);
        TreeSet<Integer> chosen = new TreeSet<>();
        for (Node node : asset.nodes()) {
            if (node.mesh() >= 0
                    && (pattern.fits(node.name())
                            || pattern.fits(asset.meshes().get(node.mesh()).name()))) {
                chosen.add(node.mesh());
            }
        }
        Map<Family, TreeSet<Integer>> families = new LinkedHashMap<>();
        for (int m : chosen) {
            for (Primitive p : asset.meshes().get(m).primitives()) {
                if (p.material() >= 0 && isFlat(asset.materials().get(p.material()))) {
                    Material flat = asset.materials().get(p.material());
                    families.computeIfAbsent(new Family(flat.doubleSided(), flat.carried()), k -> new TreeSet<>())
                            .add(p.material());
                }
            }
        }
        families.values().removeIf(f -> f.size() < 2);
        if (families.isEmpty()) {
            throw new Refused("palette.few", parts);
        }
        Asset out = asset;
        long flats = 0;
        int number = 0;
        for (var family : families.entrySet()) {
            String own = number == 0 ? name : name + "_" + number;
            number++;
            if (asset.materials().stream().anyMatch(m -> m.name().equals(own))) {
                throw new Refused("name.taken", own);
            }
            flats += family.getValue().size();
            out = painted(out, chosen, new ArrayList<>(family.getValue()), family.getKey(), own);
        }
        return Change.of(Unused.removed(out))
                .count("flat.materials", flats)
                .count("palettes.made.of.them", families.size());
    }

    /** A colour and nothing else; what names a picture of any kind is not. */
    private static boolean isFlat(Material material) {
        return material.textures().isEmpty();
    }

    private static Asset painted(
            Asset asset, TreeSet<Integer> chosen, List<Integer> flats, Family family, String name) {
        int side = (int) Math.ceil(Math.sqrt(flats.size()));
        int width = side * FIELD;
        int[] pixels = new int[width * width];
        for (int i = 0; i < pixels.length; i++) {
            int field = i / width / FIELD * side + i % width / FIELD;
            float[] c = asset.materials()
                    .get(flats.get(Math.min(field, flats.size() - 1)))
                    .baseColour();
            pixels[i] = encoded(c[0]) << 24 | encoded(c[1]) << 16 | encoded(c[2]) << 8 | Math.round(255 * c[3]);
        }
        List<Image> images = new ArrayList<>(asset.images());
        images.add(new Image(name, "image/png", "", Png.encode(width, width, pixels), Passthrough.NONE));
        List<Texture> textures = new ArrayList<>(asset.textures());
        textures.add(new Texture(name, images.size() - 1, Passthrough.NONE));
        List<Material> materials = new ArrayList<>(asset.materials());
        materials.add(new Material(
                name, new float[] {1, 1, 1, 1}, textures.size() - 1, family.doubleSided(), family.carried()));
        int palette = materials.size() - 1;
        Asset out = asset.withPictures(materials, textures, images);
        for (int m : chosen) {
            List<Primitive> moved = new ArrayList<>();
            for (Primitive p : asset.meshes().get(m).primitives()) {
                int field = flats.indexOf(p.material());
                moved.add(field < 0 ? p : onField(p, field, side).withMaterial(palette));
            }
            Mesh merged = asset.meshes().get(m).withPrimitives(PrimitiveMerge.byMaterial(moved));
            out = out.withMesh(m, merged, PrimitiveMerge.map(moved));
        }
        return out;
    }

    private static Primitive onField(Primitive p, int field, int side) {
        float[] uv = new float[p.vertexCount() * 2];
        for (int v = 0; v < p.vertexCount(); v++) {
            uv[2 * v] = (field % side + 0.5f) / side;
            uv[2 * v + 1] = (field / side + 0.5f) / side;
        }
        List<Attribute> attributes = new ArrayList<>(p.attributes());
        attributes.removeIf(a -> a.name().equals("TEXCOORD_0"));
        attributes.addFirst(new Attribute("TEXCOORD_0", 2, uv, Storage.FLOAT));
        return p.withAttributes(attributes);
    }

    /** A factor, which is linear, as eight bits of a picture of colour. */
    public static int encoded(float linear) {
        return (int) Math.round(255 * Srgb.encoded(linear));
    }
}
