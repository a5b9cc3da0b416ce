package org.cleanmarrow.model;

import static org.assertj.core.api.Assertions.assertThat;

import java.awt.image.BufferedImage;
import java.io.ByteArrayInputStream;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import javax.imageio.ImageIO;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.picture.Png;
import org.cleanmarrow.query.Duplicates;
import org.cleanmarrow.query.LodFamilies;
import org.cleanmarrow.query.PassthroughTransforms;
import org.cleanmarrow.query.Unused;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** Questions about what an asset holds: duplicates, what nothing uses, levels of detail, what is carried along. */
public class ContentTest {
    private static Asset named(String... names) {
        Asset asset = RandomAssets.of(3);
        List<Node> nodes = new ArrayList<>();
        for (String name : names) {
            nodes.add(Node.group(name, Local.IDENTITY).withMesh(1, -1));
        }
        return Asset.of("x", asset.conventions(), nodes, asset.meshes(), List.of(), List.of());
    }

    @DataProvider
    public Object[][] families() {
        return new Object[][] {
            {new String[] {"cape_LOD0", "cape_LOD1", "cape_LOD2"}, "cape", "0 1 2"},
            {new String[] {"cape", "cape_LOD1", "cape.lod3"}, "cape", "0 1 3"},
            {new String[] {"hat lod 1", "hat-LOD-2"}, "hat", "1 2"},
            {new String[] {"cape_LOD1", "hat_LOD2"}, "", ""},
            {new String[] {"cape", "cape_2"}, "", ""},
            {new String[] {"reload1", "reload2"}, "", ""},
        };
    }

    @Test(dataProvider = "families")
    public void levelsOfDetailAreKnownByTheirNames(String[] names, String family, String levels) {
        List<LodFamilies.Family> found = LodFamilies.of(named(names));
        if (family.isEmpty()) {
            assertThat(found).isEmpty();
            return;
        }
        assertThat(found).hasSize(1);
        assertThat(found.getFirst().name()).isEqualTo(family);
        assertThat(String.join(
                        " ",
                        found.getFirst().members().stream()
                                .map(m -> Integer.toString(m.level()))
                                .toList()))
                .isEqualTo(levels);
    }

    @Test
    public void aLevelIsNamedAfterItsPart() {
        assertThat(LodFamilies.levelName("cape", 2)).isEqualTo("cape_LOD2");
        assertThat(LodFamilies.levelName("cape_LOD0", 3)).isEqualTo("cape_LOD3");
    }

    @Test
    public void sameContentUnderOtherNamesIsADuplicateAndALastBitIsNot() {
        Asset asset = RandomAssets.of(6);
        List<Mesh> meshes = new ArrayList<>(asset.meshes());
        meshes.add(meshes.getFirst().withName("again"));
        Primitive p = meshes.get(1).primitives().getFirst();
        float[] moved = p.positions().clone();
        moved[4] = Math.nextUp(moved[4]);
        meshes.add(meshes.get(1).withPrimitives(List.of(p.withShape(moved, p.normals(), p.tangents(), p.targets()))));
        assertThat(Duplicates.ofMeshes(asset.withMeshes(meshes))).containsExactly(0, 1, 0, 3);
        Material red = new Material("red", new float[] {1, 0, 0, 1}, -1, false, Passthrough.NONE);
        assertThat(Duplicates.ofMaterials(asset.withMaterials(List.of(
                        red,
                        red.withName("rot"),
                        new Material("red", new float[] {1, 0, 0, 1}, -1, true, Passthrough.NONE)))))
                .containsExactly(0, 0, 2);
    }

    @Test
    public void whatNothingUsesGoesAndTheRestIsRenumbered() {
        Asset asset = RandomAssets.of(6);
        List<Material> materials = new ArrayList<>();
        List<Texture> textures = new ArrayList<>();
        List<Image> images = new ArrayList<>();
        for (int i = 0; i < 4; i++) {
            materials.add(new Material("m" + i, new float[] {1, 1, 1, 1}, i, false, Passthrough.NONE));
            textures.add(new Texture("t" + i, 3 - i, Passthrough.NONE));
            images.add(new Image("i" + i, "image/png", "", new byte[] {(byte) i}, Passthrough.NONE));
        }
        Primitive p = asset.meshes().get(1).primitives().getFirst();
        Asset full = asset.withPictures(materials, textures, images)
                .withMesh(1, asset.meshes().get(1).withPrimitives(List.of(p.withMaterial(2))));
        List<Node> nodes = full.nodes().stream()
                .map(n -> n.mesh() == 0 ? n.withMesh(-1, -1) : n)
                .toList();
        Asset out = Unused.removed(full.withNodes(nodes));
        assertThat(out.meshes()).hasSize(1);
        assertThat(out.nodes().stream().filter(n -> n.mesh() >= 0)).allMatch(n -> n.mesh() == 0);
        assertThat(out.materials().stream().map(Material::name)).containsExactly("m2");
        assertThat(out.meshes().getFirst().primitives().getFirst().material()).isZero();
        assertThat(out.textures().stream().map(Texture::name)).containsExactly("t2");
        assertThat(out.images().stream().map(Image::name)).containsExactly("i1");
        assertThat(out.textures().getFirst().image()).isZero();
        assertThat(Unused.removed(out)).usingRecursiveComparison().isEqualTo(out);
    }

    /** Decoded by the platform's own reader. */
    @Test
    public void picturesAreReadByAnotherDecoder() throws Exception {
        Random random = new Random(2);
        int width = 37;
        int height = 300;
        int[] pixels = random.ints((long) width * height).toArray();
        BufferedImage picture = ImageIO.read(new ByteArrayInputStream(Png.encode(width, height, pixels)));
        assertThat(picture.getWidth()).isEqualTo(width);
        assertThat(picture.getHeight()).isEqualTo(height);
        for (int i = 0; i < pixels.length; i++) {
            int argb = picture.getRGB(i % width, i / width);
            assertThat(argb << 8 | argb >>> 24).isEqualTo(pixels[i]);
        }
    }

    @DataProvider
    public Object[][] extras() {
        return new Object[][] {
            {"{\"extras\":{\"pivot\":[0,1,2]}}", "pivot"},
            {"{\"extras\":{\"deep\":{\"list\":[{\"radius\":3}]}}}", "radius"},
            {"{\"extras\":{\"Height\":1.8}}", "Height"},
            {"{\"extensions\":{\"VENDOR_body\":{\"gravity\":[0,-9.81,0]}}}", "gravity"},
            {"{\"extras\":{\"height\":\"tall\"}}", ""},
            {"{\"extras\":{\"colour\":[1,0,0]}}", ""},
            {"{\"extensions\":{\"KHR_lights_punctual\":{\"light\":0}}}", ""},
            {"{\"extensions\":{\"KHR_materials_unlit\":{\"offset\":[1,2]}}}", ""},
            {"not json", ""},
        };
    }

    @Test(dataProvider = "extras")
    public void carriedNumbersThatLookLikePlacesAreNamed(String json, String word) {
        Asset asset = RandomAssets.of(3);
        List<Node> nodes = new ArrayList<>(asset.nodes());
        nodes.set(2, nodes.get(2).withCarried(new Passthrough(json)));
        List<String> found = PassthroughTransforms.in(asset.withNodes(nodes));
        if (word.isEmpty()) {
            assertThat(found).isEmpty();
        } else {
            assertThat(found).containsExactly(asset.nodeRef(2) + " (" + word + ")");
        }
    }
}
