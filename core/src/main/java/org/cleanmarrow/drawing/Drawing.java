package org.cleanmarrow.drawing;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Conversion;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.picture.Pixels;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.Rig;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.jspecify.annotations.Nullable;

/**
 * Pictures of an asset without a window, a display or graphics hardware, the same bytes everywhere: its triangles in its own
 * colours and base colour textures, seen along an axis without perspective, lit from the upper left of whoever looks.
 *
 * <p>Immutable; one instance serves many threads. Cost: posing, and some nanoseconds a pixel that a triangle covers.
 */
public final class Drawing {
    /** Pixels each way that are averaged to one. */
    private static final int FINE = 2;
    /** A texture is looked up in so many pixels each way, which is as many as a picture shows. */
    private static final int TEXTURE_SIDE = 512;

    /** How much larger the picture is than what has to fit. */
    private static final double AIR = 1.12;

    private static final float[] GREY = {0.5f, 0.5f, 0.5f, 1};

    private final Asset asset;
    private final Rig rig;
    private final Deformer deformer;
    /** Into metres, y up, seen from +z. */
    private final Matrix4d upright;

    private final Map<Integer, Pixels.Some> textures = new HashMap<>();

    /** Where an onlooker stands: degrees to the asset's left, seen from its front, and degrees above. */
    public record Stand(double about, double above) {
        Matrix4d turn() {
            return new Matrix4d().rotateX(Math.toRadians(above)).rotateY(-Math.toRadians(about));
        }
    }

    /**
     * What fits into a picture, in metres and glTF's axes.
     *
     * @param halfWidth to either side of the middle, as it is seen
     */
    public record Frame(Vector3d middle, double halfWidth, double halfHeight) {
        private static final double LEAST = 1e-6;

        static Frame around(Box box, List<Stand> stands) {
            if (box.isEmpty()) {
                return new Frame(new Vector3d(), 1, 1);
            }
            Vector3d half = box.size().mul(0.5);
            double width = LEAST;
            double height = LEAST;
            for (Stand stand : stands) {
                Matrix4d turn = stand.turn();
                // The farthest of the box's corners along a direction lies where each side adds to it.
                width = Math.max(
                        width,
                        Math.abs(turn.m00()) * half.x + Math.abs(turn.m10()) * half.y + Math.abs(turn.m20()) * half.z);
                height = Math.max(
                        height,
                        Math.abs(turn.m01()) * half.x + Math.abs(turn.m11()) * half.y + Math.abs(turn.m21()) * half.z);
            }
            return new Frame(box.centre(), width, height);
        }
    }

    /** @param barMetres length of the bar that is drawn at the lower left */
    public record Picture(Pixels.Some pixels, double barMetres) {}

    public Drawing(Asset asset) {
        this.asset = asset;
        rig = new Rig(asset);
        deformer = new Deformer(asset);
        upright = Conversion.between(asset.conventions(), Conventions.GLTF).matrix();
        for (int t = 0; t < asset.textures().size(); t++) {
            int image = asset.textures().get(t).image();
            byte[] bytes = image < 0 ? null : asset.images().get(image).bytes();
            Optional<Pixels.Some> pixels = bytes == null ? Optional.empty() : Pixels.some(bytes, TEXTURE_SIDE);
            if (pixels.isPresent()) {
                textures.put(t, pixels.get());
            }
        }
    }

    public Rig rig() {
        return rig;
    }

    public List<MeshPlace> places() {
        return deformer.places();
    }

    /** A frame that holds all of some poses, from wherever one stands. */
    public Frame frame(List<Pose> poses, List<Stand> stands) {
        Box box = Box.empty();
        for (Pose pose : poses) {
            Matrix4d[] world = pose.world();
            for (MeshPlace place : deformer.places()) {
                float[] p = new float[deformer.vertexCount(place) * 3];
                deformer.deform(place, pose, world, upright, p, null, true);
                for (int i = 0; i + 2 < p.length; i += 3) {
                    if (Float.isFinite(p[i]) && Float.isFinite(p[i + 1]) && Float.isFinite(p[i + 2])) {
                        box.grow(p[i], p[i + 1], p[i + 2]);
                    }
                }
            }
        }
        return Frame.around(box, stands);
    }

    /**
     * A picture.
     *
     * @param colours by use of a mesh 0xRRGGBB a vertex, in place of the materials; empty for those
     */
    public Picture picture(Pose pose, Stand stand, Frame frame, int width, int height, Map<MeshPlace, int[]> colours) {
        double scale = FINE / AIR * Math.min(width / (2 * frame.halfWidth), height / (2 * frame.halfHeight));
        Matrix4d view = stand.turn()
                .translate(-frame.middle.x, -frame.middle.y, -frame.middle.z)
                .mul(upright);
        Canvas canvas = new Canvas(width * FINE, height * FINE, scale);
        Matrix4d[] world = pose.world();
        for (MeshPlace place : deformer.places()) {
            float[] p = new float[deformer.vertexCount(place) * 3];
            float[] n = new float[p.length];
            deformer.deform(place, pose, world, view, p, n, true);
            draw(canvas, place, p, n, colours.get(place));
        }
        double bar = canvas.bar(FINE);
        return new Picture(canvas.shrunk(FINE), bar);
    }

    private void draw(Canvas canvas, MeshPlace place, float[] p, float[] n, int @Nullable [] colours) {
        Mesh mesh = asset.meshes().get(place.mesh());
        int first = 0;
        for (Primitive primitive : mesh.primitives()) {
            Material material =
                    primitive.material() < 0 ? null : asset.materials().get(primitive.material());
            float[] base = material == null ? GREY : material.baseColour();
            Pixels.Some texture = material == null ? null : textures.get(material.texture());
            float[] uv = texture == null || material == null ? null : coordinates(primitive, material);
            int[] corners = primitive.triangleCorners();
            for (int i = 0; i + 2 < corners.length; i += 3) {
                int a = first + corners[i];
                int b = first + corners[i + 1];
                int c = first + corners[i + 2];
                Canvas.Paint paint = colours == null
                        ? new Canvas.Paint(base, texture, uv, corners[i], corners[i + 1], corners[i + 2])
                        : new Canvas.Paint(colours[a], colours[b], colours[c]);
                canvas.triangle(p, n, a, b, c, paint);
            }
            first += primitive.vertexCount();
        }
    }

    private static float @Nullable [] coordinates(Primitive primitive, Material material) {
        int set = material.textures().stream()
                .filter(u -> u.texture() == material.texture())
                .mapToInt(u -> u.carried().read().path("texCoord").asInt(0))
                .findFirst()
                .orElse(0);
        return primitive.attributes().stream()
                .filter(a -> a.name().equals("TEXCOORD_" + set))
                .map(Attribute::values)
                .findFirst()
                .orElse(null);
    }

    /** Colours of a strain, as on the desk: pressed green, stretched red, as at rest bone. */
    public static int[] ofStrain(float[] stretch) {
        int[] out = new int[stretch.length];
        for (int v = 0; v < out.length; v++) {
            double share = Math.clamp(stretch[v] / MOST_STRAIN, -1, 1);
            out[v] = mixed(0xE9E2D4, share < 0 ? 0x1F7A72 : 0xA3342C, Math.abs(share));
        }
        return out;
    }

    /** Half as long again, or half as long, is the end of the scale. */
    public static final double MOST_STRAIN = 0.5;

    private static int mixed(int from, int to, double share) {
        int out = 0;
        for (int shift = 16; shift >= 0; shift -= 8) {
            double c = (from >> shift & 0xFF) * (1 - share) + (to >> shift & 0xFF) * share;
            out |= (int) Math.round(c) << shift;
        }
        return out;
    }
}
