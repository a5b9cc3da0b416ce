package org.cleanmarrow.drawing;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Image;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.model.Texture;
import org.cleanmarrow.picture.Pixels;
import org.cleanmarrow.picture.Png;
import org.cleanmarrow.pose.Pose;
import org.joml.Vector3d;
import org.testng.annotations.Test;

/** What stands where in a picture, worked out by hand. */
public class DrawingTest {
    /** A square of 1 m each way, its middle and its two sides given; wound so that it faces their cross product. */
    private static Primitive square(double unit, Vector3d middle, Vector3d right, Vector3d up, int material) {
        List<Vector3d> corners = List.of(
                new Vector3d(middle).fma(-0.5, right).fma(-0.5, up),
                new Vector3d(middle).fma(0.5, right).fma(-0.5, up),
                new Vector3d(middle).fma(0.5, right).fma(0.5, up),
                new Vector3d(middle).fma(-0.5, right).fma(0.5, up));
        float[] p = new float[12];
        for (int i = 0; i < 4; i++) {
            p[3 * i] = (float) (corners.get(i).x / unit);
            p[3 * i + 1] = (float) (corners.get(i).y / unit);
            p[3 * i + 2] = (float) (corners.get(i).z / unit);
        }
        float[] uv = {0, 1, 1, 1, 1, 0, 0, 0};
        return Primitive.triangles(new int[] {0, 1, 2, 0, 2, 3}, p, new float[12], material)
                .withAttributes(List.of(new Attribute("TEXCOORD_0", 2, uv, Storage.FLOAT)));
    }

    private static Material material(float r, float g, float b, int texture) {
        return new Material("m", new float[] {r, g, b, 1}, texture, true, Passthrough.NONE);
    }

    private static Asset asset(Conventions conventions, List<Primitive> primitives, List<Material> materials) {
        Mesh mesh = Mesh.of("box", primitives.toArray(Primitive[]::new));
        Node node = Node.group("box", Local.IDENTITY).withMesh(0, -1);
        return Asset.of("box", conventions, List.of(node), List.of(mesh), List.of(), List.of())
                .withMaterials(materials);
    }

    private static Pixels.Some seen(Asset asset, Drawing.Stand stand) {
        Drawing drawing = new Drawing(asset);
        Pose rest = drawing.rig().rest();
        Drawing.Frame frame = drawing.frame(List.of(rest), List.of(stand));
        return drawing.picture(rest, stand, frame, 112, 112, Map.of()).pixels();
    }

    private static String middle(Pixels.Some picture) {
        int rgb = picture.argb()[56 * 112 + 56];
        int r = rgb >> 16 & 255;
        int g = rgb >> 8 & 255;
        int b = rgb & 255;
        return r > 2 * g && r > 2 * b
                ? "red"
                : g > 2 * r && g > 2 * b ? "green" : b > 2 * r && b > 2 * g ? "blue" : "other";
    }

    /** Front red, left green, back blue, in axes where up is z and the front -y: the left side then is +x (right-handed). */
    @Test
    public void eachSideIsSeenFromWhereOneStands() {
        Conventions c = Conventions.parse("z-up-cm-rh").orElseThrow();
        double unit = c.metresPerUnit();
        Vector3d front = c.forward().vector();
        Vector3d up = c.up().vector();
        Vector3d left = c.left();
        List<Primitive> sides = new ArrayList<>();
        sides.add(square(unit, new Vector3d(front).mul(0.5), left, up, 0));
        sides.add(square(unit, new Vector3d(left).mul(0.5), front, up, 1));
        sides.add(square(unit, new Vector3d(front).mul(-0.5), left, up, 2));
        Asset box = asset(c, sides, List.of(material(1, 0, 0, -1), material(0, 1, 0, -1), material(0, 0, 1, -1)));
        assertThat(middle(seen(box, new Drawing.Stand(0, 0)))).isEqualTo("red");
        assertThat(middle(seen(box, new Drawing.Stand(90, 0)))).isEqualTo("green");
        assertThat(middle(seen(box, new Drawing.Stand(180, 0)))).isEqualTo("blue");
    }

    /** A square of 1 m fills 100 of 112 pixels each way, 12 per cent of air around it; the bar under it is a fifth of it long. */
    @Test
    public void whatHasToFitFitsAndTheBarIsAsLongAsItSays() {
        Asset one = asset(
                Conventions.GLTF,
                List.of(square(1, new Vector3d(), new Vector3d(1, 0, 0), new Vector3d(0, 1, 0), 0)),
                List.of(material(1, 0, 0, -1)));
        Drawing drawing = new Drawing(one);
        Pose rest = drawing.rig().rest();
        Drawing.Stand stand = new Drawing.Stand(0, 0);
        Drawing.Picture picture =
                drawing.picture(rest, stand, drawing.frame(List.of(rest), List.of(stand)), 112, 112, Map.of());
        int paper = picture.pixels().argb()[0];
        assertThat(java.util.stream.IntStream.range(0, 112)
                        .filter(x -> picture.pixels().argb()[40 * 112 + x] != paper)
                        .count())
                .isEqualTo(100);
        assertThat(picture.barMetres()).isCloseTo(0.2, within(1e-12));
        long dark = java.util.Arrays.stream(picture.pixels().argb())
                .filter(p -> (p >> 16 & 255) < 60 && (p >> 8 & 255) < 60)
                .count();
        assertThat(dark).as("twenty pixels long, two high").isEqualTo(40);
    }

    /** The first row of a picture is its upper edge, where v is 0 (glTF 2.0, 3.8.1). */
    @Test
    public void texturesStandUpright() {
        byte[] rows = Png.encode(1, 2, new int[] {0x00FF00FF, 0xFF0000FF});
        Asset wall = asset(
                Conventions.GLTF,
                List.of(square(1, new Vector3d(), new Vector3d(1, 0, 0), new Vector3d(0, 1, 0), 0)),
                List.of(material(1, 1, 1, 0)));
        wall = wall.withPictures(
                wall.materials(),
                List.of(new Texture("", 0, Passthrough.NONE)),
                List.of(new Image("", "image/png", "", rows, Passthrough.NONE)));
        Pixels.Some picture = seen(wall, new Drawing.Stand(0, 0));
        int above = picture.argb()[20 * 112 + 56];
        int below = picture.argb()[90 * 112 + 56];
        assertThat(above >> 8 & 255).isGreaterThan(2 * (above >> 16 & 255) + 50);
        assertThat(below >> 16 & 255).isGreaterThan(2 * (below >> 8 & 255) + 50);
    }

    /** Numbers that are not finite, and triangles without area, leave the rest as it is. */
    @Test
    public void brokenTrianglesAreNotDrawn() {
        Primitive sound = square(1, new Vector3d(), new Vector3d(1, 0, 0), new Vector3d(0, 1, 0), 0);
        float[] broken = {Float.NaN, 0, 0, 1, 0, Float.POSITIVE_INFINITY, 0, 1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0};
        Primitive spoiled = Primitive.triangles(new int[] {0, 1, 2, 3, 4, 5}, broken, new float[18], 0);
        Asset both = asset(Conventions.GLTF, List.of(sound, spoiled), List.of(material(1, 0, 0, -1)));
        assertThat(middle(seen(both, new Drawing.Stand(0, 0)))).isEqualTo("red");
    }
}
