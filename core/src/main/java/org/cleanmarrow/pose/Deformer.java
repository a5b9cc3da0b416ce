package org.cleanmarrow.pose;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.IntStream;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.MorphTarget;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Skin;
import org.joml.Matrix4d;
import org.jspecify.annotations.Nullable;

/**
 * Finds where every vertex of an asset is in a pose: morph targets first, then skin or node transform; a vertex
 * cache that plays stands in for targets and skin.
 *
 * <p>Immutable; one instance serves many threads and poses.
 */
public final class Deformer {
    private static final int CHUNK = 8192;

    private final Asset asset;
    private final List<MeshPlace> places;
    private final int[] vertexCounts;
    /** Meshes of which every piece has influences. */
    private final boolean[] wholly;
    /** Of every skin; made once, because they are asked for at every pose. */
    private final Matrix4d[][] inverseBinds;

    /** Made when first posed, by whichever thread that is. */
    private final Map<Influences, LinearSkinning> skinning = new ConcurrentHashMap<>();

    /** Where vertex caches give no normals. */
    private final Map<Integer, SmoothNormals> smoothing = new ConcurrentHashMap<>();

    private final boolean dual;

    public Deformer(Asset asset) {
        this(asset, false);
    }

    /** @param dual blend by dual quaternions instead of linearly, as some receiving sides can */
    public Deformer(Asset asset, boolean dual) {
        this.asset = asset;
        this.dual = dual;
        List<MeshPlace> found = new ArrayList<>();
        for (int n = 0; n < asset.nodes().size(); n++) {
            Node node = asset.nodes().get(n);
            if (node.mesh() >= 0) {
                found.add(new MeshPlace(n, node.mesh(), node.skin()));
            }
        }
        places = List.copyOf(found);
        vertexCounts = asset.meshes().stream().mapToInt(Mesh::vertexCount).toArray();
        wholly = new boolean[vertexCounts.length];
        for (int m = 0; m < wholly.length; m++) {
            wholly[m] = asset.meshes().get(m).primitives().stream().allMatch(p -> p.influences() != null);
        }
        inverseBinds = asset.skins().stream().map(Deformer::inverseBinds).toArray(Matrix4d[][]::new);
    }

    public Asset asset() {
        return asset;
    }

    /** Every use of a mesh, in node order. */
    public List<MeshPlace> places() {
        return places;
    }

    public int vertexCount(MeshPlace place) {
        return vertexCounts[place.mesh()];
    }

    /**
     * Positions (and normals) of a mesh in the world.
     *
     * @param world        node transforms of the pose
     * @param view         applied after everything else; identity for the asset's own world
     * @param outPositions 3 a vertex, primitives one after the other
     * @param outNormals   the same, not unit length, zero where the primitive has none; or null
     * @param parallel     use all cores
     */
    public void deform(
            MeshPlace place,
            Pose pose,
            Matrix4d[] world,
            Matrix4d view,
            float[] outPositions,
            float @Nullable [] outNormals,
            boolean parallel) {
        Moves moves = new Moves(place, world, view);
        float[] cached = pose.vertices(place.node());
        if (cached != null) {
            moves.still(cached, 0, cached.length / 3, outPositions, 0);
            if (outNormals != null) {
                smooth(place.mesh()).of(outPositions, outNormals);
            }
            return;
        }
        double[] morph = pose.morph(place.node());
        int first = 0;
        for (Primitive primitive : asset.meshes().get(place.mesh()).primitives()) {
            int count = primitive.vertexCount();
            float[] p = morphed(primitive, primitive.positions(), morph, false);
            float[] n = outNormals == null || primitive.normals() == null
                    ? null
                    : morphed(primitive, primitive.normals(), morph, true);
            int at = first;
            chunks(
                    count,
                    parallel,
                    (from, to) -> moves.run(primitive, p, n, from, to, outPositions, outNormals, at + from));
            first += count;
        }
    }

    /**
     * Positions of some vertices of a mesh in the world; the same bits as {@link #deform} gives them.
     *
     * @param vertices numbers in the mesh, rising
     * @param out      3 for each of them, in their order
     */
    public void deformSome(MeshPlace place, Pose pose, Matrix4d[] world, Matrix4d view, int[] vertices, float[] out) {
        Moves moves = new Moves(place, world, view);
        float[] cached = pose.vertices(place.node());
        for (int i = 0; cached != null && i < vertices.length; i++) {
            moves.still(cached, vertices[i], vertices[i] + 1, out, i);
        }
        if (cached != null) {
            return;
        }
        double[] morph = pose.morph(place.node());
        int first = 0;
        int at = 0;
        for (Primitive primitive : asset.meshes().get(place.mesh()).primitives()) {
            int end = first + primitive.vertexCount();
            if (at >= vertices.length || vertices[at] >= end) {
                first = end;
                continue;
            }
            float[] p = morphed(primitive, primitive.positions(), morph, false);
            while (at < vertices.length && vertices[at] < end) {
                int run = at + 1;
                while (run < vertices.length && vertices[run] < end && vertices[run] == vertices[run - 1] + 1) {
                    run++;
                }
                int v = vertices[at] - first;
                moves.run(primitive, p, null, v, v + run - at, out, null, at);
                at = run;
            }
            first = end;
        }
    }

    /**
     * All that decides where a use of a mesh stands in a pose but for the mesh's own arrays, as the numbers that the
     * arithmetic uses: where these and the arrays are the same, so are all vertices to the last bit. Null where a vertex cache
     * plays, or blending is not linear.
     */
    public float @Nullable [] movers(MeshPlace place, Pose pose, Matrix4d[] world, Matrix4d view) {
        if (pose.caches[place.node()] != null || dual) {
            return null;
        }
        Moves moves = new Moves(place, world, view);
        double[] morph = pose.morph(place.node());
        int joints = moves.joints == null ? 0 : moves.joints.length;
        int shapes = morph == null ? 0 : morph.length;
        float[] out = new float[12 + joints + shapes];
        if (!moves.skinned || !wholly[place.mesh()]) {
            System.arraycopy(moves.node, 0, out, 0, 12);
        }
        if (joints > 0) {
            System.arraycopy(moves.joints, 0, out, 12, joints);
        }
        for (int t = 0; t < shapes; t++) {
            out[12 + joints + t] = (float) morph[t];
        }
        return out;
    }

    private record Known(Influences rows, LinearSkinning skinning) {}

    /** What moves the vertices of one use of a mesh in one pose. */
    private final class Moves {
        private final float[] node;
        private final float @Nullable [] joints;
        private final @Nullable DualSkinning blend;
        private final float[] seen;
        private final boolean skinned;
        private @Nullable Known last;

        Moves(MeshPlace place, Matrix4d[] world, Matrix4d view) {
            Skin skin = place.skin() < 0 ? null : asset.skins().get(place.skin());
            node = rows(new Matrix4d(view).mul(world[place.node()]), new float[12], 0);
            joints = skin == null || dual ? null : jointMatrices(skin, inverseBinds[place.skin()], world, view);
            blend = skin == null || !dual ? null : dual(skin, world);
            seen = rows(view, new float[12], 0);
            skinned = skin != null;
        }

        /** Looked up once for vertices that lie apart; both at once, because chunks run side by side. */
        private LinearSkinning of(Influences rows) {
            Known known = last;
            if (known == null || known.rows != rows) {
                known = new Known(rows, skinning.computeIfAbsent(rows, LinearSkinning::new));
                last = known;
            }
            return known.skinning;
        }

        /** As the node alone has them. */
        void still(float[] p, int from, int to, float[] outP, int at) {
            rigid(p, null, node, from, to, outP, null, at);
        }

        void run(
                Primitive of,
                float[] p,
                float @Nullable [] n,
                int from,
                int to,
                float[] outP,
                float @Nullable [] outN,
                int at) {
            Influences rows = skinned ? of.influences() : null;
            if (rows != null && joints != null) {
                of(rows).skin(p, n, joints, from, to, outP, outN, at);
            } else if (rows == null || blend == null) {
                rigid(p, n, node, from, to, outP, outN, at);
            } else {
                blend.skin(rows, p, n, from, to, outP, outN, at);
                rigid(outP, n == null ? null : outN, seen, at, at + to - from, outP, outN, at);
            }
        }
    }

    /** Positions of a mesh in the asset's own world. */
    public float[] positions(MeshPlace place, Pose pose) {
        float[] out = new float[vertexCount(place) * 3];
        deform(place, pose, pose.world(), new Matrix4d(), out, null, true);
        return out;
    }

    private SmoothNormals smooth(int mesh) {
        return smoothing.computeIfAbsent(
                mesh, m -> new SmoothNormals(asset.meshes().get(m)));
    }

    private static DualSkinning dual(Skin skin, Matrix4d[] world) {
        Matrix4d[] joints = new Matrix4d[skin.joints().length];
        for (int j = 0; j < joints.length; j++) {
            joints[j] = new Matrix4d(world[skin.joints()[j]]).mul(skin.inverseBind(j));
        }
        return new DualSkinning(joints);
    }

    private interface Range {
        void run(int from, int to);
    }

    private static void chunks(int count, boolean parallel, Range body) {
        if (!parallel || count <= CHUNK) {
            body.run(0, count);
            return;
        }
        int pieces = (count + CHUNK - 1) / CHUNK;
        IntStream.range(0, pieces).parallel().forEach(i -> body.run(i * CHUNK, Math.min(count, (i + 1) * CHUNK)));
    }

    /** 12 numbers a joint, three rows of four: view x joint's world transform x inverse bind. */
    public static float[] jointMatrices(Skin skin, Matrix4d[] world, Matrix4d view) {
        return jointMatrices(skin, inverseBinds(skin), world, view);
    }

    private static float[] jointMatrices(Skin skin, Matrix4d[] inverseBinds, Matrix4d[] world, Matrix4d view) {
        float[] out = new float[skin.joints().length * 12];
        Matrix4d m = new Matrix4d();
        for (int j = 0; j < skin.joints().length; j++) {
            m.set(view).mul(world[skin.joints()[j]]).mul(inverseBinds[j]);
            rows(m, out, j * 12);
        }
        return out;
    }

    private static Matrix4d[] inverseBinds(Skin skin) {
        return IntStream.range(0, skin.joints().length)
                .mapToObj(skin::inverseBind)
                .toArray(Matrix4d[]::new);
    }

    private static float[] rows(Matrix4d m, float[] out, int at) {
        out[at] = (float) m.m00();
        out[at + 1] = (float) m.m10();
        out[at + 2] = (float) m.m20();
        out[at + 3] = (float) m.m30();
        out[at + 4] = (float) m.m01();
        out[at + 5] = (float) m.m11();
        out[at + 6] = (float) m.m21();
        out[at + 7] = (float) m.m31();
        out[at + 8] = (float) m.m02();
        out[at + 9] = (float) m.m12();
        out[at + 10] = (float) m.m22();
        out[at + 11] = (float) m.m32();
        return out;
    }

    private static void rigid(
            float[] p,
            float @Nullable [] n,
            float[] m,
            int from,
            int to,
            float[] outP,
            float @Nullable [] outN,
            int first) {
        // Normals go by the cofactor matrix, which is right for any scale and needs no inverse.
        float c00 = m[5] * m[10] - m[6] * m[9];
        float c01 = m[6] * m[8] - m[4] * m[10];
        float c02 = m[4] * m[9] - m[5] * m[8];
        float c10 = m[2] * m[9] - m[1] * m[10];
        float c11 = m[0] * m[10] - m[2] * m[8];
        float c12 = m[1] * m[8] - m[0] * m[9];
        float c20 = m[1] * m[6] - m[2] * m[5];
        float c21 = m[2] * m[4] - m[0] * m[6];
        float c22 = m[0] * m[5] - m[1] * m[4];
        int at = first * 3;
        for (int of = from * 3; of < to * 3; of += 3, at += 3) {
            float x = p[of];
            float y = p[of + 1];
            float z = p[of + 2];
            outP[at] = m[0] * x + m[1] * y + m[2] * z + m[3];
            outP[at + 1] = m[4] * x + m[5] * y + m[6] * z + m[7];
            outP[at + 2] = m[8] * x + m[9] * y + m[10] * z + m[11];
            if (n != null && outN != null) {
                x = n[of];
                y = n[of + 1];
                z = n[of + 2];
                outN[at] = c00 * x + c01 * y + c02 * z;
                outN[at + 1] = c10 * x + c11 * y + c12 * z;
                outN[at + 2] = c20 * x + c21 * y + c22 * z;
            }
        }
    }

    private static float[] morphed(Primitive primitive, float[] base, double @Nullable [] weights, boolean normals) {
        if (weights == null) {
            return base;
        }
        float[] out = null;
        for (int t = 0; t < Math.min(weights.length, primitive.targets().size()); t++) {
            MorphTarget target = primitive.targets().get(t);
            float[] delta = normals ? target.normals() : target.positions();
            float w = (float) weights[t];
            if (delta == null || w == 0) {
                continue;
            }
            if (out == null) {
                out = base.clone();
            }
            for (int i = 0; i < out.length; i++) {
                out[i] += w * delta[i];
            }
        }
        return out == null ? base : out;
    }
}
