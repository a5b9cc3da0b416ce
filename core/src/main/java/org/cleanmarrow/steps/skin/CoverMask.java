package org.cleanmarrow.steps.skin;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.function.IntPredicate;
import java.util.stream.Collectors;
import org.cleanmarrow.edit.NewNodes;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Image;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Texture;
import org.cleanmarrow.model.TextureUse;
import org.cleanmarrow.picture.Pixels;
import org.cleanmarrow.uv.UvLayout;
import org.cleanmarrow.uv.UvMask;
import org.cleanmarrow.work.Refused;

/**
 * What is hidden of a mesh as a picture in its first texture coordinates, white where hidden, a picture for each of its materials
 * and shown in that material's {@link TextureUse#COVER}. Materials that other meshes have too are made the mesh's own, for the
 * picture fits no other.
 */
final class CoverMask {
    private static final int WHITE = 0xFFFFFFFF;
    private static final int BLACK = 0xFF000000;

    private final Asset asset;
    private final int m;
    private final BitSet hidden;
    private final int side;
    private final List<Material> materials;
    private final List<Texture> textures;
    private final List<Image> images;
    private long whole;

    /** @param hidden by the number of the triangle through the mesh's primitives */
    CoverMask(Asset asset, int m, BitSet hidden, int side) {
        this.asset = asset;
        this.m = m;
        this.hidden = hidden;
        this.side = side;
        materials = new ArrayList<>(asset.materials());
        textures = new ArrayList<>(asset.textures());
        images = new ArrayList<>(asset.images());
    }

    /** How many of the hidden triangles the pictures hide to the last texel. */
    long whole() {
        return whole;
    }

    Asset paint() throws Refused {
        Mesh mesh = asset.meshes().get(m);
        UvLayout layout = UvLayout.of(mesh, 0).orElseThrow(() -> new Refused("cover.no.uv", asset.meshRef(m)));
        TreeMap<Integer, Integer> painted = new TreeMap<>();
        for (Primitive p : mesh.primitives()) {
            int material = p.material();
            IntPredicate among = t -> layout.materialOf(t) == material;
            IntPredicate chosen = t -> hidden.get(layout.triangleOfMesh(t));
            if (!painted.containsKey(material) && any(layout, among.and(chosen))) {
                UvMask mask = UvMask.of(layout, chosen, among, side);
                for (int t = 0; t < layout.triangleCount(); t++) {
                    whole += among.test(t) && chosen.test(t) && mask.isWhole(layout, t) ? 1 : 0;
                }
                painted.put(material, shown(material, mask));
            }
        }
        Mesh out = mesh.withPrimitives(mesh.primitives().stream()
                .map(p -> p.withMaterial(painted.getOrDefault(p.material(), p.material())))
                .toList());
        return asset.withMesh(m, out).withPictures(materials, textures, images);
    }

    private static boolean any(UvLayout layout, IntPredicate of) {
        for (int t = 0; t < layout.triangleCount(); t++) {
            if (of.test(t)) {
                return true;
            }
        }
        return false;
    }

    /** @return the material that shows the mask */
    private int shown(int material, UvMask mask) throws Refused {
        Material had = material < 0
                ? new Material("", new float[] {1, 1, 1, 1}, -1, false, Passthrough.NONE)
                : materials.get(material);
        int texture = had.textures().stream()
                .filter(u -> u.slot().equals(TextureUse.COVER))
                .mapToInt(TextureUse::texture)
                .findFirst()
                .orElse(-1);
        int image = texture < 0 ? -1 : textures.get(texture).image();
        Pixels.Some old = image < 0 ? new Pixels.Some(1, 1, new int[] {BLACK}) : decoded(image);
        int[] argb = new int[side * side];
        for (int y = 0; y < side; y++) {
            for (int x = 0; x < side; x++) {
                int before = old.argb()[y * old.height() / side * old.width() + x * old.width() / side];
                argb[y * side + x] = mask.at(x, y) || (before & 0xFF) > 127 ? WHITE : BLACK;
            }
        }
        byte[] png = Pixels.png(new Pixels.Some(side, side, argb));
        if (image >= 0) {
            Image was = images.get(image);
            images.set(image, new Image(was.name(), "image/png", was.uri(), png, was.carried()));
            return material;
        }
        String name = NewNodes.free(names(images, Image::name), asset.meshRef(m) + "_cover");
        images.add(new Image(name, "image/png", "", png, Passthrough.NONE));
        textures.add(new Texture(name, images.size() - 1, Passthrough.NONE));
        List<TextureUse> uses = new ArrayList<>(had.textures());
        uses.removeIf(u -> u.slot().equals(TextureUse.COVER));
        uses.add(new TextureUse(TextureUse.COVER, textures.size() - 1, Passthrough.NONE));
        if (material >= 0 && !isShared(material)) {
            materials.set(material, had.withTextures(uses));
            return material;
        }
        String own = material < 0 ? asset.meshRef(m) : had.name() + "_" + asset.meshRef(m);
        materials.add(had.withName(NewNodes.free(names(materials, Material::name), own))
                .withTextures(uses));
        return materials.size() - 1;
    }

    private static <T> Set<String> names(List<T> of, Function<T, String> name) {
        return of.stream().map(name).collect(Collectors.toSet());
    }

    private Pixels.Some decoded(int image) throws Refused {
        byte[] bytes = images.get(image).bytes();
        if (bytes == null) {
            throw new Refused("cover.mask.unread", images.get(image).name());
        }
        return Pixels.some(bytes, Integer.MAX_VALUE)
                .orElseThrow(
                        () -> new Refused("cover.mask.unread", images.get(image).name()));
    }

    private boolean isShared(int material) {
        for (int other = 0; other < asset.meshes().size(); other++) {
            if (other != m && asset.meshes().get(other).primitives().stream().anyMatch(p -> p.material() == material)) {
                return true;
            }
        }
        return false;
    }
}
