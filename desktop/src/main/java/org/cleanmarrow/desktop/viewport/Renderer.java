package org.cleanmarrow.desktop.viewport;

import static org.lwjgl.opengl.GL33C.*;

import java.io.IOException;
import java.io.InputStream;
import java.nio.ByteBuffer;
import java.nio.FloatBuffer;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.cleanmarrow.cloth.ClothSection;
import org.cleanmarrow.cloth.Strays;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Conversion;
import org.cleanmarrow.desktop.desk.ShadingMode;
import org.cleanmarrow.measure.DisplacementMap;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Image;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.DeltaMush;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.pose.Strain;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.weights.WeightChange;
import org.joml.Matrix4d;
import org.joml.Matrix4f;
import org.joml.Vector3d;
import org.lwjgl.BufferUtils;

/**
 * Draws {@link Picture}s with OpenGL into memory. Lives on one thread, with a {@link GlContext} current there.
 *
 * <p>What was sent to the card is remembered, so that another joint's heat map sends weights alone, and a turned
 * camera sends nothing.
 */
public final class Renderer {
    private static final int SMOOTHING = 4;
    /** Metres that are rounding. */
    private static final double NOTHING = 1e-6;

    private static final int KEPT_SURFACES = 256;
    /** Corners of all of them: a surface holds the arrays of its mesh, though nothing else may have them any more. */
    private static final long KEPT_CORNERS = 4_000_000;

    private static final int KEPT_TEXTURES = 48;
    private static final int KEPT_POSERS = 4;
    private static final int KEPT_RELAXERS = 8;
    /** Where the shader takes the colours of vertices. */
    private static final int PAINTED = 5;

    private static final float[] UNPAINTED = {};

    private final int plainProgram;
    /** Goes by way of a geometry shader, which costs a software renderer more than all the rest. */
    private final int wireProgram;

    private int surfaceProgram;
    private final Beside beside = new Beside();
    private final int pointsProgram;
    private final int stageProgram;
    private final MarkDrawing marking;
    private final int emptyVertexArray;
    private final Map<List<Object>, Surface> surfaces = new LinkedHashMap<>(16, 0.75f, true);
    /** Those of the picture that is being drawn. */
    private final Set<Surface> drawn = new HashSet<>();

    private final Map<Image, Integer> textures = new LinkedHashMap<>(16, 0.75f, true);
    private final Map<Integer, Target> targets = new HashMap<>();
    private final Map<List<Object>, Posed> posers = new LinkedHashMap<>(4, 0.75f, true);
    private final Map<List<Object>, DeltaMush> relaxers = new LinkedHashMap<>(8, 0.75f, true);
    private FloatBuffer upload = BufferUtils.createFloatBuffer(1 << 16);

    /** The names of {@link ShadingMode} as the shaders know them. */
    private static final String PAINTS = java.util.Arrays.stream(ShadingMode.values())
            .map(p -> "#define " + p + " " + p.ordinal() + "\n")
            .collect(java.util.stream.Collectors.joining());

    private static final float[] CHOSEN = {1, 0.42f, 0.36f};
    private static final float[] LIT = {0.96f, 0.94f, 0.89f};
    private static final int FEW = 60;

    /** An asset made ready to be posed. */
    private record Posed(Rig rig, Deformer deformer, Matrix4d view) {}

    /** Buffers of one primitive on one side of the divider, and what they were last filled for. */
    private static final class Surface {
        final int vertexArray;
        final int[] buffers;
        final int corners;
        final int mode;
        final MarkDrawing.Marks chosen;
        final MarkDrawing.Marks lit;
        List<Object> posedFor;
        List<Object> heatFor;
        List<Object> tintFor;

        Surface(int vertexArray, int[] buffers, int corners, int mode) {
            this.mode = mode;
            this.vertexArray = vertexArray;
            this.buffers = buffers;
            this.corners = corners;
            chosen = new MarkDrawing.Marks(buffers[0]);
            lit = new MarkDrawing.Marks(buffers[0]);
        }

        int positions() {
            return buffers[0];
        }

        int normals() {
            return buffers[1];
        }

        int heat() {
            return buffers[2];
        }

        int tint() {
            return buffers[3];
        }
    }

    /** A place to draw into. */
    private record Target(int framebuffer, int colour, int depth, int width, int height, int samples) {}

    /** Needs a current context. */
    public Renderer() {
        plainProgram = program("", "surface.vert", null, "surface.frag");
        wireProgram = program("#define WIRE\n", "surface.vert", "surface.geom", "surface.frag");
        pointsProgram = program("", "points.vert", null, "points.frag");
        stageProgram = program("", "stage.vert", null, "stage.frag");
        marking = new MarkDrawing(program("", "mark.vert", null, "mark.frag"));
        emptyVertexArray = glGenVertexArrays();
        glEnable(GL_DEPTH_TEST);
        glDepthFunc(GL_LEQUAL);
        glEnable(GL_PROGRAM_POINT_SIZE);
        glProvokingVertex(GL_FIRST_VERTEX_CONVENTION);
        glPixelStorei(GL_PACK_ALIGNMENT, 4);
    }

    /** True where no graphics card draws. */
    public boolean isSoftware() {
        String by = String.valueOf(glGetString(GL_RENDERER)).toLowerCase(java.util.Locale.ROOT);
        return by.contains("llvmpipe") || by.contains("softpipe") || by.contains("swrast") || by.contains("software");
    }

    /** Draws and reads back, 4 bytes a pixel, blue first, top row first. */
    public void draw(Picture picture, ByteBuffer out) {
        int w = picture.width();
        int h = picture.height();
        Target into = target(w, h, picture.still() ? SMOOTHING : 0);
        glBindFramebuffer(GL_FRAMEBUFFER, into.framebuffer);
        glViewport(0, 0, w, h);
        drawn.clear();
        glDisable(GL_SCISSOR_TEST);
        glClear(GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT);
        int split = (int) Math.round(picture.divider() * w);
        glEnable(GL_SCISSOR_TEST);
        if (split > 0) {
            glScissor(0, 0, split, h);
            drawSide(picture, picture.received(), false);
        }
        if (split < w) {
            glScissor(split, 0, w - split, h);
            drawSide(picture, picture.now(), true);
            if (picture.look().ghost() && picture.received() != picture.now() && picture.received() != null) {
                seeThrough(true);
                draw(picture, picture.received(), false, 0.55f);
                seeThrough(false);
            }
        }
        glDisable(GL_SCISSOR_TEST);
        if (into.samples > 0) {
            Target plain = target(w, h, 0);
            glBindFramebuffer(GL_READ_FRAMEBUFFER, into.framebuffer);
            glBindFramebuffer(GL_DRAW_FRAMEBUFFER, plain.framebuffer);
            glBlitFramebuffer(0, 0, w, h, 0, 0, w, h, GL_COLOR_BUFFER_BIT, GL_NEAREST);
            glBindFramebuffer(GL_READ_FRAMEBUFFER, plain.framebuffer);
        }
        glReadPixels(0, 0, w, h, GL_BGRA, GL_UNSIGNED_INT_8_8_8_8_REV, out);
        trim(Math.max(drawn.size(), KEPT_SURFACES), KEPT_TEXTURES, KEPT_POSERS, KEPT_RELAXERS);
        int error = glGetError();
        if (error != GL_NO_ERROR) {
            throw new IllegalStateException("OpenGL reports error 0x" + Integer.toHexString(error));
        }
    }

    /** Lets go of all that was made ready for pictures; the next are slower by that. */
    void forget() {
        drawn.clear();
        trim(0, 0, 0, 0);
    }

    private void trim(int keptSurfaces, int keptTextures, int keptPosers, int keptRelaxers) {
        var oldest = surfaces.entrySet().iterator();
        long corners = surfaces.values().stream().mapToLong(s -> s.corners).sum();
        int least = Math.min(keptSurfaces, drawn.size());
        while (surfaces.size() > keptSurfaces || corners > KEPT_CORNERS && surfaces.size() > least) {
            Surface s = oldest.next().getValue();
            oldest.remove();
            corners -= s.corners;
            glDeleteVertexArrays(s.vertexArray);
            glDeleteBuffers(s.buffers);
            s.chosen.delete();
            s.lit.delete();
        }
        var loaded = textures.entrySet().iterator();
        while (textures.size() > keptTextures && loaded.hasNext()) {
            glDeleteTextures(loaded.next().getValue());
            loaded.remove();
        }
        var oldRelaxers = relaxers.entrySet().iterator();
        while (relaxers.size() > keptRelaxers && oldRelaxers.hasNext()) {
            oldRelaxers.next();
            oldRelaxers.remove();
        }
        var posed = posers.entrySet().iterator();
        while (posers.size() > keptPosers && posed.hasNext()) {
            posed.next();
            posed.remove();
        }
    }

    private static void seeThrough(boolean on) {
        if (on) {
            glEnable(GL_BLEND);
            glBlendFuncSeparate(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA, GL_ZERO, GL_ONE);
        } else {
            glDisable(GL_BLEND);
        }
        glDepthMask(!on);
    }

    private static Matrix4d clip(Picture picture) {
        // Rows are read back from the bottom, so the picture is drawn upside down.
        return new Matrix4d()
                .scaling(1, -1, 1)
                .mul(picture.camera().projection(picture.width(), picture.height()))
                .mul(picture.camera().view());
    }

    private void drawSide(Picture picture, Asset asset, boolean now) {
        stage(picture, clip(picture), now);
        if (asset != null) {
            draw(picture, asset, now, 1);
            if (picture.look().figure() || picture.look().cube()) {
                drawBeside(picture);
            }
        }
    }

    /** What stands beside the asset for its size to be seen. */
    private void drawBeside(Picture picture) {
        useSurfaceProgram(picture, ShadingMode.COLOURS, 1);
        glUniform4f(glGetUniformLocation(surfaceProgram, "base"), 0.62f, 0.58f, 0.50f, 1);
        glVertexAttrib3f(PAINTED, 1, 1, 1);
        glUniform1i(glGetUniformLocation(surfaceProgram, "textured"), 0);
        Matrix4d at = new Matrix4d();
        Vector3d min = picture.bounds().min();
        Vector3d max = picture.bounds().max();
        if (picture.look().figure()) {
            at.translation(min.x - 0.45, 0, (min.z + max.z) / 2);
            matrix(surfaceProgram, "clip", clip(picture).mul(at));
            beside.draw(Beside.FIGURE);
        }
        if (picture.look().cube()) {
            at.translation(max.x + 0.75, 0, (min.z + max.z) / 2);
            matrix(surfaceProgram, "clip", clip(picture).mul(at));
            beside.draw(Beside.CUBE);
        }
    }

    private void useSurfaceProgram(Picture picture, ShadingMode paint, float fade) {
        surfaceProgram = picture.look().wire() ? wireProgram : plainProgram;
        glUseProgram(surfaceProgram);
        matrix(surfaceProgram, "clip", clip(picture));
        glUniform2f(glGetUniformLocation(surfaceProgram, "size"), picture.width(), picture.height());
        vector(surfaceProgram, "eye", picture.camera().eye());
        vector(surfaceProgram, "key", keyLight(picture.camera()));
        glUniform1i(glGetUniformLocation(surfaceProgram, "paint"), paint.ordinal());
        glUniform1f(glGetUniformLocation(surfaceProgram, "fade"), fade);
    }

    private void draw(Picture picture, Asset asset, boolean now, float fade) {
        Posed posed = posers.computeIfAbsent(
                List.of(new Same(asset), picture.look().dual()),
                k -> new Posed(
                        new Rig(asset),
                        new Deformer(asset, picture.look().dual()),
                        Conversion.between(asset.conventions(), Conventions.GLTF)
                                .matrix()));
        Clip clip = now ? picture.clip() : picture.before();
        Pose pose = clip == null ? posed.rig.rest() : posed.rig.at(clip, picture.seconds());
        Matrix4d[] world = pose.world();
        useSurfaceProgram(picture, picture.paint(), fade);
        List<MeshPlace> marked = new ArrayList<>();
        for (MeshPlace place : posed.deformer.places()) {
            // What was left behind is not in the picture; what was received always is.
            if (!now || asset.nodes().get(place.node()).ships()) {
                drawPlace(picture, posed, place, pose, world, now);
                marked.add(place);
            }
        }
        if (now) {
            mark(picture, asset, marked, picture.lit(), LIT, false);
            mark(picture, asset, marked, picture.chosen(), CHOSEN, true);
        }
    }

    /** So few vertices are dots, too: they may span no triangle. */
    private static boolean isFew(BitSet vertices) {
        return !vertices.isEmpty() && vertices.cardinality() <= FEW;
    }

    /** Over all surfaces, because what is drawn later must not hide a rim. */
    private void mark(
            Picture picture,
            Asset asset,
            List<MeshPlace> places,
            Picture.Marked marked,
            float[] colour,
            boolean chosen) {
        if (marked.mesh() < 0 || marked.vertices().isEmpty()) {
            return;
        }
        List<MarkDrawing.Marks> marks = new ArrayList<>();
        for (MeshPlace place : places) {
            if (place.mesh() == marked.mesh()) {
                Mesh mesh = asset.meshes().get(place.mesh());
                int first = 0;
                for (Primitive p : mesh.primitives()) {
                    Surface surface = surface(place, p, true);
                    MarkDrawing.Marks own = chosen ? surface.chosen : surface.lit;
                    own.take(p, first, marked.vertices());
                    marks.add(own);
                    first += p.vertexCount();
                }
            }
        }
        marking.draw(clip(picture), picture.width(), picture.height(), marks, colour, picture.still() ? 8 : 4, chosen);
    }

    private static Vector3d keyLight(Camera camera) {
        Vector3d key = new Vector3d(-0.45, 0.65, 0.62);
        camera.view().invert().transformDirection(key);
        return key.normalize();
    }

    private void stage(Picture picture, Matrix4d clip, boolean now) {
        glUseProgram(stageProgram);
        matrix(stageProgram, "back", clip.invert(new Matrix4d()));
        matrix(stageProgram, "clip", clip);
        glUniform1f(glGetUniformLocation(stageProgram, "cell"), (float)
                gridCell(picture.camera().reach()));
        glUniform1f(glGetUniformLocation(stageProgram, "reach"), (float)
                picture.camera().reach());
        glUniform1f(glGetUniformLocation(stageProgram, "flip"), -1);
        glUniform1f(glGetUniformLocation(stageProgram, "dim"), now ? 1f : 0.88f);
        glBindVertexArray(emptyVertexArray);
        glDrawArrays(GL_TRIANGLES, 0, 3);
        glClear(GL_DEPTH_BUFFER_BIT);
    }

    /** Edge of a ground cell in metres: a power of ten that suits the distance. */
    static double gridCell(double reach) {
        return Math.pow(10, Math.floor(Math.log10(Math.max(reach, 1e-6) / 4)));
    }

    private void drawPlace(Picture picture, Posed posed, MeshPlace place, Pose pose, Matrix4d[] world, boolean now) {
        Asset asset = posed.deformer.asset();
        Mesh mesh = asset.meshes().get(place.mesh());
        List<Surface> drawn = new ArrayList<>();
        for (Primitive p : mesh.primitives()) {
            drawn.add(surface(place, p, now));
        }
        sendPose(picture, posed, place, pose, world, drawn);
        if (picture.paint() == ShadingMode.STRAIN) {
            sendStrain(picture, posed, place, pose, world, drawn);
        }
        for (int i = 0; i < drawn.size(); i++) {
            Primitive p = mesh.primitives().get(i);
            Surface surface = drawn.get(i);
            if (picture.paint() == ShadingMode.INFLUENCE) {
                sendHeat(asset, place, p, now ? picture.joint() : jointIn(picture, asset), surface);
            } else if (picture.paint() == ShadingMode.JOINTS) {
                sendTint(asset, place, p, surface);
            } else if (picture.paint() == ShadingMode.REGIONS) {
                sendRegions(mesh, i, surface);
            } else if (picture.paint() == ShadingMode.PAIR) {
                sendPair(picture, asset, place, p, now, surface);
            } else if (picture.paint() == ShadingMode.PRICE) {
                sendPrice(picture, place, mesh, i, surface);
            } else if (picture.paint() == ShadingMode.CHANGED) {
                sendChanged(picture, mesh, i, surface);
            } else if (picture.paint() == ShadingMode.STRAY) {
                sendStray(asset, place, mesh, i, surface);
            }
            material(asset, p);
            if (surface.mode != GL_TRIANGLES) {
                drawStrokes(picture, asset, p, surface);
            } else if (surface.corners > 0) {
                glBindVertexArray(surface.vertexArray);
                glDrawElements(GL_TRIANGLES, surface.corners, GL_UNSIGNED_INT, 0);
            }
        }
        BitSet all = new BitSet();
        if (now && picture.look().points()) {
            all.set(0, mesh.vertexCount());
            points(picture, mesh, drawn, all, 3.2, new Vector3d(0.93, 0.91, 0.86));
        }
        if (now
                && place.mesh() == picture.chosen().mesh()
                && isFew(picture.chosen().vertices())) {
            points(picture, mesh, drawn, picture.chosen().vertices(), 5, new Vector3d(1, 0.42, 0.36));
        }
        glUseProgram(surfaceProgram);
    }

    /** Lines and points have no side that light falls on: they are drawn in their material's own colour. */
    private void drawStrokes(Picture picture, Asset asset, Primitive p, Surface surface) {
        Material material = p.material() < 0 ? null : asset.materials().get(p.material());
        float[] base = material == null ? new float[] {0.8f, 0.8f, 0.8f, 1} : material.baseColour();
        marking.strokes(clip(picture), base);
        glBindVertexArray(surface.vertexArray);
        glDrawElements(surface.mode, surface.corners, GL_UNSIGNED_INT, 0);
        glUseProgram(surfaceProgram);
    }

    /** How the card draws a primitive. */
    private static int mode(Primitive p) {
        return switch (p.mode()) {
            case POINTS -> GL_POINTS;
            case LINES -> GL_LINES;
            case LINE_STRIP -> GL_LINE_STRIP;
            case LINE_LOOP -> GL_LINE_LOOP;
            default -> GL_TRIANGLES;
        };
    }

    /** Sends positions and normals where they are not those that were sent last. */
    private void sendPose(
            Picture picture, Posed posed, MeshPlace place, Pose pose, Matrix4d[] world, List<Surface> drawn) {
        List<Object> wanted = List.of(
                new Same(posed.deformer),
                new Same(picture.clip() == null ? posed : picture.clip()),
                picture.seconds(),
                picture.look().relaxed());
        if (drawn.stream().allMatch(s -> wanted.equals(s.posedFor))) {
            return;
        }
        Mesh mesh = posed.deformer.asset().meshes().get(place.mesh());
        float[] positions = new float[mesh.vertexCount() * 3];
        float[] normals = new float[positions.length];
        posed.deformer.deform(place, pose, world, posed.view, positions, normals, true);
        positions = relaxed(picture, posed, place, positions);
        int first = 0;
        for (int i = 0; i < drawn.size(); i++) {
            int count = mesh.primitives().get(i).vertexCount() * 3;
            fill(drawn.get(i).positions(), positions, first, count);
            fill(drawn.get(i).normals(), normals, first, count);
            drawn.get(i).posedFor = wanted;
            first += count;
        }
    }

    /** Positions smoothed after deformation, where that is wanted; skins alone. */
    private float[] relaxed(Picture picture, Posed posed, MeshPlace place, float[] positions) {
        if (!picture.look().relaxed() || place.skin() < 0) {
            return positions;
        }
        Mesh mesh = posed.deformer.asset().meshes().get(place.mesh());
        WeldedSurface welded = MeshTopology.of(mesh).welded(mesh);
        DeltaMush relaxing = relaxers.computeIfAbsent(List.of(new Same(posed.deformer), place.node()), k -> {
            Pose still = posed.rig.rest();
            float[] rest = new float[positions.length];
            posed.deformer.deform(place, still, still.world(), posed.view, rest, null, true);
            return new DeltaMush(welded, welded.byWelded(rest));
        });
        return welded.byVertex(relaxing.relaxed(welded.byWelded(positions)));
    }

    /** How far the surface is from rest, in place of heat. */
    private void sendStrain(
            Picture picture, Posed posed, MeshPlace place, Pose pose, Matrix4d[] world, List<Surface> drawn) {
        List<Object> wanted = List.of(
                new Same(posed.deformer),
                new Same(picture.clip() == null ? posed : picture.clip()),
                picture.seconds(),
                picture.look().relaxed(),
                ShadingMode.STRAIN);
        if (drawn.stream().allMatch(s -> wanted.equals(s.heatFor))) {
            return;
        }
        Mesh mesh = posed.deformer.asset().meshes().get(place.mesh());
        float[] rest = new float[mesh.vertexCount() * 3];
        float[] now = new float[rest.length];
        Pose still = posed.rig.rest();
        posed.deformer.deform(place, still, still.world(), posed.view, rest, null, true);
        posed.deformer.deform(place, pose, world, posed.view, now, null, true);
        now = relaxed(picture, posed, place, now);
        float[] stretch = Strain.of(MeshTopology.of(mesh).corners(), rest, now).stretch();
        int first = 0;
        for (int i = 0; i < drawn.size(); i++) {
            int count = mesh.primitives().get(i).vertexCount();
            fill(drawn.get(i).heat(), stretch, first, count);
            drawn.get(i).heatFor = wanted;
            first += count;
        }
    }

    /** What the step costs in place of heat, against the largest; nothing where the price is of another state. */
    private void sendPrice(Picture picture, MeshPlace place, Mesh mesh, int primitive, Surface surface) {
        DisplacementMap price = picture.price();
        float[] metres = price == null || price.of() != picture.now()
                ? null
                : price.metres().get(place.mesh());
        Primitive p = mesh.primitives().get(primitive);
        List<Object> wanted = List.of(new Same(metres == null ? p : metres), ShadingMode.PRICE);
        if (wanted.equals(surface.heatFor)) {
            return;
        }
        float[] heat = new float[p.vertexCount()];
        int first = mesh.firstVertex(primitive);
        for (int v = 0; metres != null && first + v < metres.length && v < heat.length; v++) {
            heat[v] = metres[first + v] < NOTHING ? 0 : (float) (metres[first + v] / price.most());
        }
        fill(surface.heat(), heat, 0, heat.length);
        surface.heatFor = wanted;
    }

    /** Half the sum of what weights differ by from those received, in place of heat; 1 where all is other. */
    private void sendChanged(Picture picture, Mesh mesh, int primitive, Surface surface) {
        Primitive p = mesh.primitives().get(primitive);
        int before = picture.received().findMesh(mesh.name());
        Primitive was = before < 0
                        || picture.received().meshes().get(before).primitives().size() <= primitive
                ? p
                : picture.received().meshes().get(before).primitives().get(primitive);
        List<Object> wanted = List.of(new Same(was), new Same(p), ShadingMode.CHANGED);
        if (!wanted.equals(surface.heatFor)) {
            fill(surface.heat(), WeightChange.of(picture.received(), was, picture.now(), p), 0, p.vertexCount());
            surface.heatFor = wanted;
        }
    }

    /** How far vertices may stray in place of heat; nothing where the mesh is no cloth. */
    private void sendStray(Asset asset, MeshPlace place, Mesh mesh, int primitive, Surface surface) {
        Primitive p = mesh.primitives().get(primitive);
        boolean cloth = ClothSection.all(asset).stream()
                .anyMatch(s -> asset.nodes().get(s.node()).mesh() == place.mesh());
        List<Object> wanted = List.of(new Same(p.attributes()), cloth, ShadingMode.STRAY);
        if (!wanted.equals(surface.heatFor)) {
            float[] strays = cloth ? Strays.of(mesh) : new float[mesh.vertexCount()];
            fill(surface.heat(), strays, mesh.firstVertex(primitive), p.vertexCount());
            surface.heatFor = wanted;
        }
    }

    private void sendHeat(Asset asset, MeshPlace place, Primitive p, int node, Surface surface) {
        int joint = place.skin() < 0 || node < 0 || p.influences() == null
                ? -1
                : asset.skins().get(place.skin()).indexOfNode(node);
        List<Object> wanted = List.of(new Same(p.influences() == null ? p : p.influences()), joint);
        if (!wanted.equals(surface.heatFor)) {
            fill(surface.heat(), heat(p, joint), 0, p.vertexCount());
            surface.heatFor = wanted;
        }
    }

    /** The node of the same name in the asset as it was received. */
    private static int jointIn(Picture picture, Asset asset) {
        return picture.joint() < 0 || picture.joint() >= picture.now().nodes().size()
                ? -1
                : asset.findNode(picture.now().nodeRef(picture.joint()));
    }

    private void sendPair(Picture picture, Asset asset, MeshPlace place, Primitive p, boolean now, Surface surface) {
        int one = place.skin() < 0 ? -1 : number(picture, asset, place, picture.joint(), now);
        int two = place.skin() < 0 ? -1 : number(picture, asset, place, picture.other(), now);
        List<Object> wanted =
                List.of(new Same(p.influences() == null ? p : p.influences()), one, two, ShadingMode.PAIR);
        if (!wanted.equals(surface.tintFor)) {
            float[] tints = JointTints.pair(p, one, two);
            fill(surface.tint(), tints, 0, tints.length);
            surface.tintFor = wanted;
        }
    }

    /** Position in the skin of a node of the asset looked at, on either side of the divider. */
    private static int number(Picture picture, Asset asset, MeshPlace place, int node, boolean now) {
        int own = now || node < 0 || node >= picture.now().nodes().size()
                ? node
                : asset.findNode(picture.now().nodeRef(node));
        return own < 0 ? -1 : asset.skins().get(place.skin()).indexOfNode(own);
    }

    private void sendTint(Asset asset, MeshPlace place, Primitive p, Surface surface) {
        List<Object> wanted = List.of(new Same(p.influences() == null ? p : p.influences()), place.skin());
        if (!wanted.equals(surface.tintFor)) {
            float[] tints = JointTints.of(asset, place.skin()).paint(p);
            fill(surface.tint(), tints, 0, tints.length);
            surface.tintFor = wanted;
        }
    }

    private void sendRegions(Mesh mesh, int primitive, Surface surface) {
        float[] numbers = RegionTints.numbers(mesh.primitives().get(primitive));
        List<Object> wanted = List.of(new Same(numbers), ShadingMode.REGIONS);
        if (!wanted.equals(surface.tintFor)) {
            float[] tints = RegionTints.paint(mesh, primitive);
            fill(surface.tint(), tints, 0, tints.length);
            surface.tintFor = wanted;
        }
    }

    private static float[] heat(Primitive p, int joint) {
        float[] out = new float[p.vertexCount()];
        if (joint >= 0) {
            int[] offsets = p.influences().offsets();
            int[] joints = p.influences().joints();
            float[] weights = p.influences().weights();
            for (int v = 0; v < out.length; v++) {
                for (int i = offsets[v]; i < offsets[v + 1]; i++) {
                    if (joints[i] == joint) {
                        out[v] += weights[i];
                    }
                }
            }
        }
        return out;
    }

    /** @param size in pixels at the distance looked at; nearer dots are larger */
    private void points(Picture picture, Mesh mesh, List<Surface> drawn, BitSet shown, double size, Vector3d colour) {
        glUseProgram(pointsProgram);
        matrix(pointsProgram, "clip", clip(picture));
        double reach = picture.camera().parallel() ? 1 : picture.camera().reach();
        double detail = Math.clamp(2 / Math.sqrt(picture.camera().reach()), 0.7, 1.6);
        glUniform1f(glGetUniformLocation(pointsProgram, "size"), (float) (size * detail * reach));
        vector(pointsProgram, "fill", colour);
        int first = 0;
        for (int i = 0; i < drawn.size(); i++) {
            int count = mesh.primitives().get(i).vertexCount();
            glBindVertexArray(drawn.get(i).vertexArray);
            for (int from = shown.nextSetBit(first); from >= 0 && from < first + count; ) {
                int to = Math.min(shown.nextClearBit(from), first + count);
                glDrawArrays(GL_POINTS, from - first, to - from);
                from = shown.nextSetBit(to);
            }
            first += count;
        }
    }

    private void material(Asset asset, Primitive p) {
        Material material = p.material() < 0 ? null : asset.materials().get(p.material());
        float[] base = material == null ? new float[] {0.8f, 0.8f, 0.8f, 1} : material.baseColour();
        glUniform4f(glGetUniformLocation(surfaceProgram, "base"), base[0], base[1], base[2], base[3]);
        // Of primitives without colours of their own.
        glVertexAttrib3f(PAINTED, 1, 1, 1);
        int texture = material == null || material.texture() < 0 ? 0 : texture(asset, material.texture());
        glUniform1i(glGetUniformLocation(surfaceProgram, "textured"), texture > 0 ? 1 : 0);
        glBindTexture(GL_TEXTURE_2D, Math.max(texture, 0));
    }

    private int texture(Asset asset, int number) {
        int image = asset.textures().get(number).image();
        if (image < 0 || asset.images().get(image).bytes() == null) {
            return 0;
        }
        return textures.computeIfAbsent(asset.images().get(image), this::load);
    }

    private int load(Image image) {
        var picture = new javafx.scene.image.Image(new java.io.ByteArrayInputStream(image.bytes()));
        if (picture.isError() || picture.getWidth() < 1) {
            return 0;
        }
        int w = (int) picture.getWidth();
        int h = (int) picture.getHeight();
        ByteBuffer pixels = BufferUtils.createByteBuffer(w * h * 4);
        byte[] row = new byte[w * 4];
        for (int y = 0; y < h; y++) {
            picture.getPixelReader()
                    .getPixels(0, y, w, 1, javafx.scene.image.PixelFormat.getByteBgraInstance(), row, 0, w * 4);
            pixels.put(row);
        }
        int texture = glGenTextures();
        glBindTexture(GL_TEXTURE_2D, texture);
        glTexImage2D(GL_TEXTURE_2D, 0, GL_RGBA8, w, h, 0, GL_BGRA, GL_UNSIGNED_INT_8_8_8_8_REV, pixels.flip());
        glGenerateMipmap(GL_TEXTURE_2D);
        glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_MIN_FILTER, w <= 64 ? GL_NEAREST : GL_LINEAR_MIPMAP_LINEAR);
        glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_MAG_FILTER, w <= 64 ? GL_NEAREST : GL_LINEAR);
        return texture;
    }

    private Surface surface(MeshPlace place, Primitive p, boolean now) {
        Object indices = p.indices() == null ? p.positions() : p.indices();
        // Two uses of one mesh stand in different places, and so do both sides of the divider.
        float[] painted = painted(p);
        float[] regions = RegionTints.numbers(p);
        List<Object> key = List.of(
                new Same(indices),
                new Same(p.positions()),
                new Same(painted),
                new Same(regions),
                p.mode(),
                place.node(),
                now);
        Surface surface = surfaces.computeIfAbsent(key, k -> {
            int mode = mode(p);
            int[] corners = mode == GL_TRIANGLES
                    ? RegionTints.fromMost(p.triangleCorners(), regions)
                    : p.indices() == null
                            ? java.util.stream.IntStream.range(0, p.vertexCount())
                                    .toArray()
                            : p.indices();
            int array = glGenVertexArrays();
            glBindVertexArray(array);
            int positions = attribute(0, 3);
            int normals = attribute(1, 3);
            int heat = attribute(3, 1);
            int tint = attribute(4, 3);
            Attribute uv = p.attribute("TEXCOORD_0").filter(a -> a.width() == 2).orElse(null);
            int coordinates = uv == null ? 0 : attribute(2, 2);
            if (uv != null) {
                fill(coordinates, uv.values(), 0, uv.values().length);
            }
            int colours = painted.length == 0 ? 0 : attribute(PAINTED, painted.length / p.vertexCount());
            if (painted.length > 0) {
                fill(colours, painted, 0, painted.length);
            }
            fill(heat, new float[p.vertexCount()], 0, p.vertexCount());
            fill(tint, new float[p.vertexCount() * 3], 0, p.vertexCount() * 3);
            int elements = glGenBuffers();
            glBindBuffer(GL_ELEMENT_ARRAY_BUFFER, elements);
            glBufferData(GL_ELEMENT_ARRAY_BUFFER, corners, GL_STATIC_DRAW);
            return new Surface(
                    array,
                    new int[] {positions, normals, heat, tint, coordinates, colours, elements},
                    corners.length,
                    mode);
        });
        drawn.add(surface);
        return surface;
    }

    /** The colours of vertices, which colour the material (glTF 2.0, 3.9.2), 3 or 4 numbers each; none where there are none. */
    private static float[] painted(Primitive p) {
        return p.attribute("COLOR_0")
                .filter(a -> a.width() >= 3)
                .map(Attribute::values)
                .orElse(UNPAINTED);
    }

    /** An array compared by identity. */
    private record Same(Object array) {
        @Override
        public boolean equals(Object other) {
            return other instanceof Same s && s.array == array;
        }

        @Override
        public int hashCode() {
            return System.identityHashCode(array);
        }
    }

    private static int attribute(int location, int width) {
        int buffer = glGenBuffers();
        glBindBuffer(GL_ARRAY_BUFFER, buffer);
        glEnableVertexAttribArray(location);
        glVertexAttribPointer(location, width, GL_FLOAT, false, 0, 0);
        return buffer;
    }

    private void fill(int buffer, float[] values, int from, int count) {
        if (upload.capacity() < count) {
            upload = BufferUtils.createFloatBuffer(Math.max(count, upload.capacity() * 2));
        }
        upload.clear().put(values, from, count).flip();
        glBindBuffer(GL_ARRAY_BUFFER, buffer);
        glBufferData(GL_ARRAY_BUFFER, upload, GL_STREAM_DRAW);
    }

    private Target target(int width, int height, int samples) {
        Target known = targets.get(samples);
        if (known != null && known.width == width && known.height == height) {
            return known;
        }
        if (known != null) {
            glDeleteFramebuffers(known.framebuffer);
            glDeleteRenderbuffers(new int[] {known.colour, known.depth});
        }
        int framebuffer = glGenFramebuffers();
        glBindFramebuffer(GL_FRAMEBUFFER, framebuffer);
        int colour = glGenRenderbuffers();
        glBindRenderbuffer(GL_RENDERBUFFER, colour);
        glRenderbufferStorageMultisample(GL_RENDERBUFFER, samples, GL_RGBA8, width, height);
        glFramebufferRenderbuffer(GL_FRAMEBUFFER, GL_COLOR_ATTACHMENT0, GL_RENDERBUFFER, colour);
        int depth = glGenRenderbuffers();
        glBindRenderbuffer(GL_RENDERBUFFER, depth);
        glRenderbufferStorageMultisample(GL_RENDERBUFFER, samples, GL_DEPTH24_STENCIL8, width, height);
        glFramebufferRenderbuffer(GL_FRAMEBUFFER, GL_DEPTH_STENCIL_ATTACHMENT, GL_RENDERBUFFER, depth);
        Target made = new Target(framebuffer, colour, depth, width, height, samples);
        targets.put(samples, made);
        return made;
    }

    private static void matrix(int program, String name, Matrix4d m) {
        glUniformMatrix4fv(glGetUniformLocation(program, name), false, new Matrix4f(m).get(new float[16]));
    }

    private static void vector(int program, String name, Vector3d v) {
        glUniform3f(glGetUniformLocation(program, name), (float) v.x, (float) v.y, (float) v.z);
    }

    private static int program(String defines, String vertex, String geometry, String fragment) {
        int program = glCreateProgram();
        attach(program, GL_VERTEX_SHADER, defines, vertex);
        if (geometry != null) {
            attach(program, GL_GEOMETRY_SHADER, defines, geometry);
        }
        attach(program, GL_FRAGMENT_SHADER, defines, fragment);
        glLinkProgram(program);
        if (glGetProgrami(program, GL_LINK_STATUS) == 0) {
            throw new IllegalStateException(vertex + ": " + glGetProgramInfoLog(program));
        }
        return program;
    }

    private static void attach(int program, int type, String defines, String name) {
        int shader = glCreateShader(type);
        try (InputStream in = Renderer.class.getResourceAsStream("/org/cleanmarrow/desktop/shaders/" + name)) {
            String text = new String(in.readAllBytes(), StandardCharsets.UTF_8);
            glShaderSource(shader, "#version 330 core\n" + defines + PAINTS + text);
        } catch (IOException e) {
            throw new IllegalStateException(e);
        }
        glCompileShader(shader);
        if (glGetShaderi(shader, GL_COMPILE_STATUS) == 0) {
            throw new IllegalStateException(name + ": " + glGetShaderInfoLog(shader));
        }
        glAttachShader(program, shader);
        glDeleteShader(shader);
    }
}
