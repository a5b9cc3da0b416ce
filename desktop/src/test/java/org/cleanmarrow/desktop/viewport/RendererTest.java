package org.cleanmarrow.desktop.viewport;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.nio.ByteBuffer;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.desktop.desk.ShadingMode;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.roles.BodyRegion;
import org.cleanmarrow.steps.skin.SetWeight;
import org.cleanmarrow.weights.RegionMarks;
import org.cleanmarrow.work.VertexSet;
import org.lwjgl.BufferUtils;
import org.testng.annotations.AfterClass;
import org.testng.annotations.BeforeClass;
import org.testng.annotations.Test;

/** What stands in the pixels. A wall of 2 m faces the eye; its four quarters follow one joint by different weights. */
public class RendererTest {
    private static final int W = 200;
    private static final int H = 160;
    private static final float[] WEIGHTS = {0, 0.001f, 0.5f, 1};

    private GlContext context;
    private Renderer renderer;

    @BeforeClass
    public void openContext() throws Exception {
        context = GlContext.create();
        renderer = new Renderer();
    }

    @AfterClass(alwaysRun = true)
    public void closeContext() {
        context.close();
    }

    private static Asset wall(boolean turnedOver) {
        float[] p = new float[4 * 4 * 3];
        float[] n = new float[p.length];
        int[] corners = new int[4 * 6];
        Influences.Builder rows = new Influences.Builder(16);
        for (int q = 0; q < 4; q++) {
            double x = q % 2 - 1;
            double y = q < 2 ? 1 : 0;
            for (int c = 0; c < 4; c++) {
                int v = q * 4 + c;
                p[v * 3] = (float) (x + c % 2);
                p[v * 3 + 1] = (float) (y + c / 2);
                n[v * 3 + 2] = turnedOver ? -1 : 1;
                rows.add(0, WEIGHTS[q]);
                rows.add(1, 1 - WEIGHTS[q]);
                rows.endRow();
            }
            int[] quad = {0, 1, 3, 0, 3, 2};
            for (int i = 0; i < 6; i++) {
                corners[q * 6 + i] = q * 4 + quad[i];
            }
        }
        Primitive wall = Primitive.triangles(corners, p, n, 0).withInfluences(rows.build());
        List<Node> nodes = List.of(
                Node.group("a", Local.IDENTITY),
                Node.group("b", Local.IDENTITY),
                Node.group("wall", Local.IDENTITY).withMesh(0, 0));
        Skin skin = new Skin("s", new int[] {0, 1}, null, -1, Passthrough.NONE);
        return Asset.of("wall", Conventions.GLTF, nodes, List.of(Mesh.of("wall", wall)), List.of(skin), List.of())
                .withMaterials(
                        List.of(new Material("m", new float[] {0.2f, 0.5f, 0.1f, 1}, -1, false, Passthrough.NONE)));
    }

    private int[] draw(Asset received, Asset now, double divider, ShadingMode paint, BitSet chosen, Picture.Look look) {
        return draw(received, now, divider, null, 0, paint, chosen, look);
    }

    private int[] draw(
            Asset received,
            Asset now,
            double divider,
            Clip clip,
            double seconds,
            ShadingMode paint,
            BitSet chosen,
            Picture.Look look) {
        Camera camera = new Camera(new org.joml.Vector3d(0, 1, 0), 0, 0, 6, false);
        Box bounds = Box.empty();
        bounds.grow(-1, 0, 0);
        bounds.grow(1, 2, 0);
        ByteBuffer out = BufferUtils.createByteBuffer(W * H * 4);
        renderer.draw(
                new Picture(
                        W,
                        H,
                        camera,
                        received,
                        now,
                        divider,
                        clip,
                        clip,
                        seconds,
                        paint,
                        0,
                        1,
                        null,
                        new Picture.Marked(chosen.isEmpty() ? -1 : 0, chosen),
                        Picture.Marked.NONE,
                        look,
                        bounds,
                        true),
                out);
        int[] pixels = new int[W * H];
        out.asIntBuffer().get(pixels);
        for (int i = 0; i < pixels.length; i++) {
            // Blue comes first in memory, so that a whole pixel reads as 0xAARRGGBB on little-endian machines.
            pixels[i] &= 0xFFFFFF;
        }
        return pixels;
    }

    private static final Picture.Look DUAL = new Picture.Look(false, false, false, false, false, true, false);

    private int[] posed(Asset now, Clip clip, double seconds, ShadingMode paint, Picture.Look look) {
        return draw(now, now, 0, clip, seconds, paint, new BitSet(), look);
    }

    private int[] draw(Asset now, ShadingMode paint) {
        return draw(now, now, 0, paint, new BitSet(), Picture.Look.PLAIN);
    }

    /** The middle of a quarter of the wall: the upper ones have the first two weights. */
    private static int quarter(int[] pixels, int q) {
        int x = W / 2 + (q % 2 == 0 ? -24 : 24);
        int y = H / 2 + (q < 2 ? -24 : 24);
        return pixels[y * W + x];
    }

    private static double hueDistance(int rgb, int wanted) {
        double[] a = normal(rgb);
        double[] b = normal(wanted);
        return Math.hypot(Math.hypot(a[0] - b[0], a[1] - b[1]), a[2] - b[2]);
    }

    /** The colour without its brightness, which the light changes. */
    private static double[] normal(int rgb) {
        double r = rgb >> 16 & 255;
        double g = rgb >> 8 & 255;
        double b = rgb & 255;
        double length = Math.max(1, Math.sqrt(r * r + g * g + b * b));
        return new double[] {r / length, g / length, b / length};
    }

    /** Tideline as the design gives it: bare grey at exactly zero, then 2B2F6B, 4FA98B at half, FFF3DC at one. */
    @Test
    public void theHeatMapShowsTidelinesColours() {
        int[] pixels = draw(wall(false), ShadingMode.INFLUENCE);
        int[] wanted = {0x8B8F94, 0x2B2F6B, 0x4FA98B, 0xFFF3DC};
        for (int q = 0; q < 4; q++) {
            assertThat(hueDistance(quarter(pixels, q), wanted[q]))
                    .as("weight %s: %06X wanted like %06X", WEIGHTS[q], quarter(pixels, q), wanted[q])
                    .isLessThan(0.12);
            for (int other = 0; other < 4; other++) {
                if (other != q) {
                    assertThat(hueDistance(quarter(pixels, q), wanted[q]))
                            .isLessThan(hueDistance(quarter(pixels, q), wanted[other]) + 0.05);
                }
            }
        }
        assertThat(quarter(pixels, 0)).as("the least weight shows against none").isNotEqualTo(quarter(pixels, 1));
    }

    /** One flat colour a triangle, that of most of its corners, up to its very edge. */
    @Test
    public void regionsAreFlatColours() {
        Asset plain = wall(false);
        Mesh mesh = plain.meshes().getFirst();
        BodyRegion[] marks = new BodyRegion[16];
        Arrays.fill(marks, 0, 4, BodyRegion.HEAD);
        Arrays.fill(marks, 4, 8, BodyRegion.LEFT_HAND);
        Arrays.fill(marks, 12, 16, BodyRegion.RIGHT_FOOT);
        for (int odd = 4; odd < 8; odd++) {
            BodyRegion[] slip = marks.clone();
            slip[odd] = BodyRegion.NECK;
            int[] pixels = draw(plain.withMesh(0, RegionMarks.with(mesh, slip)), ShadingMode.REGIONS);
            assertThat(hueDistance(quarter(pixels, 0), RegionTints.rgb(BodyRegion.HEAD)))
                    .isLessThan(0.12);
            assertThat(hueDistance(quarter(pixels, 2), 0x8B8F94)).isLessThan(0.12);
            assertThat(hueDistance(quarter(pixels, 3), RegionTints.rgb(BodyRegion.RIGHT_FOOT)))
                    .isLessThan(0.12);
            int alike = quarter(pixels, 1);
            for (int y = -8; y <= 8; y++) {
                for (int x = -8; x <= 8; x++) {
                    int pixel = pixels[(H / 2 - 24 + y) * W + W / 2 + 24 + x] & 0xFFFFFF;
                    assertThat(hueDistance(pixel, alike)).isLessThan(0.02);
                }
            }
            assertThat(hueDistance(alike, RegionTints.rgb(BodyRegion.LEFT_HAND)))
                    .isLessThan(0.12);
        }
    }

    /** glTF 2.0, 3.9.2: COLOR_0 is multiplied with the base colour; what has none beside it keeps its own. */
    @Test
    public void coloursOfVerticesColourTheMaterial() {
        Asset plain = wall(false);
        Primitive p = plain.meshes().getFirst().primitives().getFirst();
        for (int width = 3; width <= 4; width++) {
            float[] colours = new float[16 * width];
            for (int v = 0; v < 16; v++) {
                // Each quarter otherwise: as it is, without green, without anything, half.
                float[] of = new float[][] {{1, 1, 1}, {1, 0, 1}, {0, 0, 0}, {0.5f, 0.5f, 0.5f}}[v / 4];
                System.arraycopy(of, 0, colours, v * width, 3);
            }
            Asset painted = plain.withMesh(
                    0,
                    plain.meshes()
                            .getFirst()
                            .withPrimitives(List.of(p.withAttributes(
                                    List.of(new Attribute("COLOR_0", width, colours, Storage.FLOAT))))));
            int own = quarter(draw(plain, ShadingMode.FLAT), 0);
            int[] pixels = draw(painted, ShadingMode.FLAT);
            assertThat(quarter(pixels, 0)).isEqualTo(own);
            assertThat(quarter(pixels, 1) & 0xFFFFFF).isEqualTo(own & 0xFF00FF);
            assertThat(quarter(pixels, 2) & 0xFFFFFF).isZero();
            // Light is added up in squared colour.
            assertThat((quarter(pixels, 3) >> 8 & 255) / (double) (own >> 8 & 255))
                    .isCloseTo(Math.sqrt(0.5), within(0.02));
            assertThat(quarter(draw(plain, ShadingMode.FLAT), 2)).isEqualTo(own);
        }
    }

    /** A second in which a joint is scaled from one to a size, or turned about Y. */
    private static Clip moving(Channel.Path path, float... end) {
        float[] start = path == Channel.Path.SCALE ? new float[] {1, 1, 1} : new float[] {0, 0, 0, 1};
        float[] values = new float[start.length * 2];
        System.arraycopy(start, 0, values, 0, start.length);
        System.arraycopy(end, 0, values, start.length, start.length);
        Sampler sampler =
                new Sampler(Sampler.Interpolation.LINEAR, new float[] {0, 1}, values, start.length, Storage.FLOAT);
        return new Clip(
                "moving",
                List.of(new Channel(0, path, sampler, "", Passthrough.NONE)),
                24,
                false,
                true,
                Passthrough.NONE);
    }

    /** Strain as the design gives it: 1F7A72 pressed, E9E2D4 as at rest, A3342C stretched. */
    @Test
    public void strainIsShownWhereThePoseStretchesAndPresses() {
        Asset wall = wall(false);
        int[] rest = draw(wall, ShadingMode.STRAIN);
        for (int q = 0; q < 4; q++) {
            assertThat(hueDistance(quarter(rest, q), 0xE9E2D4)).isLessThan(0.1);
        }
        int[] larger =
                posed(wall, moving(Channel.Path.SCALE, 1.6f, 1.6f, 1.6f), 1, ShadingMode.STRAIN, Picture.Look.PLAIN);
        assertThat(hueDistance(quarter(larger, 3), 0xA3342C)).isLessThan(0.2);
        assertThat(hueDistance(quarter(larger, 0), 0xE9E2D4))
                .as("moved by the other")
                .isLessThan(0.1);
        int[] smaller =
                posed(wall, moving(Channel.Path.SCALE, 0.6f, 0.6f, 0.6f), 1, ShadingMode.STRAIN, Picture.Look.PLAIN);
        assertThat(hueDistance(quarter(smaller, 3), 0x1F7A72)).isLessThan(0.2);
    }

    /** The wall's two joints share it: what the first leaves is the second's. */
    @Test
    public void twoJointsAreToldApart() {
        int[] pixels = draw(wall(false), ShadingMode.PAIR);
        assertThat(hueDistance(quarter(pixels, 3), JointTints.FIRST)).isLessThan(0.15);
        assertThat(hueDistance(quarter(pixels, 0), JointTints.SECOND)).isLessThan(0.15);
        double half = hueDistance(quarter(pixels, 2), JointTints.FIRST);
        assertThat(half).isGreaterThan(0.2).isLessThan(hueDistance(quarter(pixels, 0), JointTints.FIRST));
    }

    @Test
    public void changedWeightsShowAgainstThoseReceived() throws Exception {
        Asset wall = wall(false);
        int[] same = draw(wall, ShadingMode.CHANGED);
        BitSet first = new BitSet();
        first.set(0, 4);
        Asset now = new SetWeight("wall", "a", VertexSet.numbers(first), 1)
                .apply(wall, org.cleanmarrow.work.Work.QUIET)
                .asset();
        int[] changed = draw(wall, now, 0, ShadingMode.CHANGED, new BitSet(), Picture.Look.PLAIN);
        for (int q = 0; q < 4; q++) {
            assertThat(hueDistance(quarter(same, q), 0x8B8F94)).isLessThan(0.12);
            assertThat(hueDistance(quarter(changed, q), q == 0 ? 0xFFF3DC : 0x8B8F94))
                    .as("quarter %d", q)
                    .isLessThan(0.12);
        }
    }

    /**
     * A quarter that two joints share evenly, one of them turned by an angle: linear blending leaves cos squared of its half
     * of the width seen, dual quaternions the cosine (Kavan and others 2008, the collapse of linear blending).
     */
    @Test
    public void dualQuaternionsKeepAHalfTurnedSurfaceWide() {
        Asset wall = wall(false);
        double half = Math.toRadians(50);
        Clip turn = moving(Channel.Path.ROTATION, 0, (float) Math.sin(half), 0, (float) Math.cos(half));
        // Rows through the middle of the lower quarters, of which the left one is shared half and half.
        int y = H / 2 + 24;
        int whole = covered(posed(wall, turn, 0, ShadingMode.CLAY, DUAL), y);
        assertThat(whole).isBetween(40, W / 2);
        double linear = covered(posed(wall, turn, 1, ShadingMode.CLAY, Picture.Look.PLAIN), y) / (double) whole;
        double dual = covered(posed(wall, turn, 1, ShadingMode.CLAY, DUAL), y) / (double) whole;
        double cos = Math.cos(half);
        double sin = Math.sin(half);
        // The eye is six away: what comes nearer looks larger.
        assertThat(linear).isCloseTo(cos * cos / (1 - cos * sin / 6), within(0.04));
        assertThat(dual).isCloseTo(cos / (1 - sin / 6), within(0.04));
        int[] still = posed(wall, turn, 0, ShadingMode.CLAY, DUAL);
        int[] stillLinear = posed(wall, turn, 0, ShadingMode.CLAY, Picture.Look.PLAIN);
        assertThat(different(still, stillLinear, 0, W))
                .as("at rest both are the same")
                .isLessThan(20);
    }

    /** Pixels of a row, left of the middle, that are not the empty picture's. */
    private int covered(int[] pixels, int y) {
        int[] empty =
                draw(Asset.of("e", Conventions.GLTF, List.of(), List.of(), List.of(), List.of()), ShadingMode.CLAY);
        int count = 0;
        for (int x = 0; x < W / 2; x++) {
            count += hueDistance(pixels[y * W + x], empty[y * W + x]) > 0.02
                            || Math.abs((pixels[y * W + x] & 255) - (empty[y * W + x] & 255)) > 24
                    ? 1
                    : 0;
        }
        return count;
    }

    /** Smoothing after deformation leaves rest as it is (Mancewicz and others 2014) and takes the crease out of a pose. */
    @Test
    public void smoothingLeavesRestAloneAndWidensACollapsedPose() {
        Asset wall = wall(false);
        Picture.Look smooth = new Picture.Look(false, false, false, false, false, false, true);
        double half = Math.toRadians(50);
        Clip turn = moving(Channel.Path.ROTATION, 0, (float) Math.sin(half), 0, (float) Math.cos(half));
        int[] plain = posed(wall, turn, 0, ShadingMode.CLAY, Picture.Look.PLAIN);
        assertThat(different(plain, posed(wall, turn, 0, ShadingMode.CLAY, smooth), 0, W))
                .isLessThan(20);
        int y = H / 2 + 24;
        assertThat(covered(posed(wall, turn, 1, ShadingMode.CLAY, smooth), y))
                .isGreaterThan(covered(posed(wall, turn, 1, ShadingMode.CLAY, Picture.Look.PLAIN), y) + 3);
    }

    @Test
    public void ownColoursClayAndNormals() {
        Asset wall = wall(false);
        // Material colours are linear: 0.2, 0.5, 0.1 come out as their roots, near enough to sRGB.
        int flat = quarter(draw(wall, ShadingMode.FLAT), 0);
        assertThat(flat >> 16 & 255).isBetween(109, 119);
        assertThat(flat >> 8 & 255).isBetween(175, 186);
        assertThat(flat & 255).isBetween(76, 86);
        assertThat(hueDistance(quarter(draw(wall, ShadingMode.CLAY), 0), 0x8B8F94))
                .isLessThan(0.1);
        int normal = quarter(draw(wall, ShadingMode.NORMALS), 0);
        assertThat(normal & 255).as("a normal towards the eye is blue").isGreaterThan(240);
        assertThat(normal >> 16 & 255).isBetween(120, 136);
    }

    @Test
    public void backFacesAreToldApart() {
        int front = brightness(draw(wall(false), ShadingMode.CLAY));
        int[] back = draw(wall(true), ShadingMode.CLAY);
        assertThat(brightness(back)).isLessThan(front * 3 / 4);
        assertThat(distinct(back)).as("and hatched").isGreaterThan(distinct(draw(wall(false), ShadingMode.CLAY)));
    }

    private static int brightness(int[] pixels) {
        long sum = 0;
        for (int y = H / 2 - 20; y < H / 2 + 20; y++) {
            for (int x = W / 2 - 20; x < W / 2 + 20; x++) {
                int p = pixels[y * W + x];
                sum += (p >> 16 & 255) + (p >> 8 & 255) + (p & 255);
            }
        }
        return (int) (sum / 1600);
    }

    private static long distinct(int[] pixels) {
        return java.util.stream.IntStream.range(0, 400)
                .map(i -> (pixels[(H / 2 + i / 20) * W + W / 2 + 2 + i % 20] >> 8 & 255) / 8)
                .distinct()
                .count();
    }

    @Test
    public void theDividerShowsWhatWasReceivedOnItsLeft() {
        Asset received = wall(false);
        Asset now = received.withMaterials(
                List.of(new Material("m", new float[] {0.8f, 0.1f, 0.1f, 1}, -1, false, Passthrough.NONE)));
        int[] split = draw(received, now, 0.5, ShadingMode.FLAT, new BitSet(), Picture.Look.PLAIN);
        assertThat(split[H / 2 * W + W / 2 - 20]).isEqualTo(quarter(draw(received, ShadingMode.FLAT), 0));
        assertThat(split[H / 2 * W + W / 2 + 20]).isEqualTo(quarter(draw(now, ShadingMode.FLAT), 0));
    }

    @Test
    public void wirePointsChoiceGhostFigureAndCubeChangeThePictureWhereTheyShould() {
        Asset wall = wall(false);
        Asset other = wall(true);
        int[] plain = draw(wall, ShadingMode.CLAY);
        int[] wire = draw(
                wall,
                wall,
                0,
                ShadingMode.CLAY,
                new BitSet(),
                new Picture.Look(true, false, false, false, false, false, false));
        int[] points = draw(
                wall,
                wall,
                0,
                ShadingMode.CLAY,
                new BitSet(),
                new Picture.Look(false, true, false, false, false, false, false));
        BitSet one = new BitSet();
        one.set(3);
        int[] chosen = draw(wall, wall, 0, ShadingMode.CLAY, one, Picture.Look.PLAIN);
        int[] ghost = draw(
                other,
                wall,
                0,
                ShadingMode.CLAY,
                new BitSet(),
                new Picture.Look(false, false, true, false, false, false, false));
        int[] figure = draw(
                wall,
                wall,
                0,
                ShadingMode.CLAY,
                new BitSet(),
                new Picture.Look(false, false, false, true, false, false, false));
        int[] cube = draw(
                wall,
                wall,
                0,
                ShadingMode.CLAY,
                new BitSet(),
                new Picture.Look(false, false, false, false, true, false, false));
        assertThat(different(plain, wire, 0, W)).isBetween(100, 6000);
        assertThat(different(plain, points, 0, W)).isBetween(20, 3000);
        assertThat(different(plain, chosen, 0, W)).isBetween(5, 200);
        assertThat(different(plain, ghost, 0, W)).isGreaterThan(2000);
        // The figure stands at the left of the wall, the cube at its right.
        assertThat(different(plain, figure, 0, W / 2 - 52)).isGreaterThan(150);
        assertThat(different(plain, figure, W / 2, W)).isZero();
        assertThat(different(plain, cube, W / 2 + 52, W)).isGreaterThan(150);
        assertThat(different(plain, cube, 0, W / 2)).isZero();
    }

    private static int different(int[] a, int[] b, int x0, int x1) {
        int count = 0;
        for (int y = 0; y < H; y++) {
            for (int x = Math.max(0, x0); x < x1; x++) {
                count += a[y * W + x] == b[y * W + x] ? 0 : 1;
            }
        }
        return count;
    }

    /** The rim is drawn around and the inside faintly hatched, so that a heat map under a selection reads as before. */
    @Test
    public void aSelectionOfEverythingHidesNoColour() {
        Asset wall = wall(false);
        BitSet all = new BitSet();
        all.set(0, 16);
        int[] empty = draw(
                wall.withNodes(List.of()),
                wall.withNodes(List.of()),
                0,
                ShadingMode.INFLUENCE,
                new BitSet(),
                Picture.Look.PLAIN);
        int[] plain = draw(wall, wall, 0, ShadingMode.INFLUENCE, new BitSet(), Picture.Look.PLAIN);
        int[] chosen = draw(wall, wall, 0, ShadingMode.INFLUENCE, all, Picture.Look.PLAIN);
        double inside = 0;
        int on = 0;
        int rim = 0;
        for (int i = 0; i < plain.length; i++) {
            if (plain[i] != empty[i]) {
                inside += apart(plain[i], chosen[i]);
                on++;
            } else {
                rim += chosen[i] == plain[i] ? 0 : 1;
            }
        }
        assertThat(on).isGreaterThan(2000);
        // Of 255 a channel.
        assertThat(inside / on).isPositive().isLessThan(16);
        assertThat(rim).as("pixels of the rim around the wall").isBetween(100, 1500);
    }

    /** Mean difference of the three channels. */
    private static double apart(int a, int b) {
        return (Math.abs((a >> 16 & 255) - (b >> 16 & 255))
                        + Math.abs((a >> 8 & 255) - (b >> 8 & 255))
                        + Math.abs((a & 255) - (b & 255)))
                / 3.0;
    }

    /** A strap is told from the jumper under it, and zero stays a grey. */
    @Test
    public void partsThatAreNotMovedAreGreysOfTheirOwn() {
        Asset wall = wall(false);
        List<int[]> greys = new java.util.ArrayList<>();
        for (float[] colour : new float[][] {{0.30f, 0.10f, 0.03f, 1}, {0.03f, 0.08f, 0.17f, 1}}) {
            Asset painted = wall.withMaterials(List.of(new Material("m", colour, -1, false, Passthrough.NONE)));
            int[] pixels = draw(painted, painted, 0, ShadingMode.INFLUENCE, new BitSet(), Picture.Look.PLAIN);
            int at = quarter(pixels, 0);
            greys.add(new int[] {at >> 16 & 255, at >> 8 & 255, at & 255});
        }
        for (int[] grey : greys) {
            assertThat(Math.abs(grey[0] - grey[2])).as("a grey").isLessThan(24);
        }
        assertThat(greys.get(0)[1] - greys.get(1)[1]).as("leather against wool").isGreaterThan(12);
    }

    @Test
    public void linesAndPointsAreDrawn() {
        float[] p = {-0.8f, 0.2f, 0, 0.8f, 0.2f, 0, 0.8f, 1.8f, 0, -0.8f, 1.8f, 0};
        Asset none = wall(false).withNodes(List.of());
        int[] empty = draw(none, none, 0, ShadingMode.COLOURS, new BitSet(), Picture.Look.PLAIN);
        int[] drawn = new int[3];
        Primitive.Mode[] modes = {Primitive.Mode.POINTS, Primitive.Mode.LINES, Primitive.Mode.LINE_LOOP};
        for (int i = 0; i < 3; i++) {
            Primitive strokes = Primitive.triangles(null, p, null, -1).withIndices(modes[i], null);
            Asset asset = Asset.of(
                    "strokes",
                    Conventions.GLTF,
                    List.of(Node.group("s", Local.IDENTITY).withMesh(0, -1)),
                    List.of(Mesh.of("s", strokes)),
                    List.of(),
                    List.of());
            drawn[i] = different(
                    empty, draw(asset, asset, 0, ShadingMode.COLOURS, new BitSet(), Picture.Look.PLAIN), 0, W);
        }
        assertThat(drawn[0]).as("four dots").isBetween(16, 200);
        assertThat(drawn[1]).as("two lines").isBetween(60, 500);
        assertThat(drawn[2]).as("a closed line").isGreaterThan(drawn[1]);
    }

    /** Every pair of joints of the pilot that any vertex shares. */
    @Test
    public void jointsThatShareAVertexNeverGetTheSameColour() {
        Asset pilot = org.cleanmarrow.demo.pilot.FerryPilot.asset();
        int m = pilot.findMesh("pilot");
        Primitive p = pilot.meshes().get(m).primitives().getFirst();
        Influences rows = p.influences();
        int joints = pilot.skins().get(pilot.skinOfMesh(m)).joints().length;
        // Each joint's colour, from a mesh whose vertices follow one joint each.
        Influences.Builder alone = new Influences.Builder(joints);
        for (int j = 0; j < joints; j++) {
            alone.add(j, 1);
            alone.endRow();
        }
        float[] tints = JointTints.of(pilot, pilot.skinOfMesh(m))
                .paint(Primitive.triangles(new int[0], new float[joints * 3], null, -1)
                        .withInfluences(alone.build()));
        int pairs = 0;
        for (int v = 0; v < p.vertexCount(); v++) {
            for (int i = rows.offsets()[v]; i < rows.offsets()[v + 1]; i++) {
                for (int k = rows.offsets()[v]; k < i; k++) {
                    int a = rows.joints()[i];
                    int b = rows.joints()[k];
                    if (a != b && rows.weights()[i] > 0 && rows.weights()[k] > 0) {
                        pairs++;
                        assertThat(Math.abs(tints[a * 3] - tints[b * 3])
                                        + Math.abs(tints[a * 3 + 1] - tints[b * 3 + 1])
                                        + Math.abs(tints[a * 3 + 2] - tints[b * 3 + 2]))
                                .as("%d and %d", a, b)
                                .isGreaterThan(0.04f);
                    }
                }
            }
        }
        assertThat(pairs).isGreaterThan(10_000);
        float[] bare = JointTints.of(pilot, -1).paint(p);
        assertThat(bare[0]).isEqualTo(0x8B / 255f);
    }
}
