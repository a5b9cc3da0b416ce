package org.cleanmarrow.steps.caches;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import org.cleanmarrow.caches.CacheUse;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.edit.NewNodes;
import org.cleanmarrow.geometry.TriangleTree;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.pose.Blend;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.surface.StrandLevel;
import org.cleanmarrow.surface.Strands;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.weights.RestSurface;
import org.cleanmarrow.weights.WeldedWeights;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.jspecify.annotations.Nullable;

/**
 * Makes geometry of strands, the lines of a part: ribbons or tubes by level ({@link StrandLevel}), tapering from root to tip, with
 * texture coordinates along them. Each strand moves with the row of weights at its root, or, where a skin is named, with the nearest point of
 * that. How many triangles it makes is {@link #foretold} before anything is built.
 */
@StepInfo(
        name = "strands-to-mesh",
        says =
                "Makes ribbons or tubes of a part's strands, by level and thickness; each level has three times the triangles.")
public record StrandsToMesh(
        @Parameter(says = "name of the mesh whose lines are strands")
        String part,

        @Parameter(
                says = "1: lines, which engines do not draw; 2: ribbons; from 3 on: tubes, ever finer",
                least = 1,
                most = StrandLevel.MOST)
        int level,

        @Parameter(says = "width at the root", unit = "mm", least = 0)
        double thicknessMillimetres,

        @Parameter(says = "width at the tip, as a share of that at the root", fallback = "0.25", least = 0, most = 10)
        double tip,

        @Parameter(
                says = "share of the strands that is kept, evenly spread over their order",
                fallback = "1",
                least = 0,
                most = 1)
        double share,

        @Parameter(
                says = "triangles at most: as few strands are kept as that needs; 0: no limit",
                fallback = "0",
                least = 0)
        int triangles,

        @Parameter(
                says = "name of the skinned mesh that they grow from; none: they stay with their node",
                fallback = "\"\"")
        String skin,

        @Parameter(says = "whether the lines stay, and the geometry stands beside them", fallback = "false")
        boolean keepLines)
        implements Step {

    public StrandsToMesh(String part, int level, double thicknessMillimetres) {
        this(part, level, thicknessMillimetres, 0.25, 1, 0, "", false);
    }

    /**
     * How many triangles would be made; 0 at level 1.
     *
     * @param strands in the part
     */
    public long foretold(int strands) {
        return level < StrandLevel.LEAST
                ? 0
                : (long) kept(strands) * StrandLevel.of(level).triangles();
    }

    private int kept(int strands) {
        int many = (int) Math.ceil(share * strands - 1e-9);
        return triangles == 0 || level < StrandLevel.LEAST
                ? many
                : Math.min(many, triangles / StrandLevel.of(level).triangles());
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (level < 1
                || level > StrandLevel.MOST
                || !(thicknessMillimetres > 0)
                || Double.isInfinite(thicknessMillimetres)
                || !(tip >= 0 && tip <= 10)
                || !(share > 0 && share <= 1)
                || triangles < 0) {
            throw new Refused("strands.range", level, thicknessMillimetres, tip, share);
        }
        int m = Names.mesh(asset, part);
        Mesh mesh = asset.meshes().get(m);
        List<Strands.Strand> strands = Strands.of(mesh);
        if (strands.isEmpty()) {
            throw new Refused("strands.none", part);
        }
        if (mesh.targetCount() > 0 || !CacheUse.of(asset, m).isEmpty()) {
            throw new Refused("strands.shaped", part);
        }
        if (level == 1) {
            return Change.of(asset).count("strands", strands.size()).note("strands.lines");
        }
        int many = kept(strands.size());
        if (many == 0) {
            throw new Refused("strands.budget", triangles, StrandLevel.of(level).triangles());
        }
        long vertices = (long) many * StrandLevel.of(level).vertices();
        if (vertices > Integer.MAX_VALUE / 8) {
            throw new Refused("strands.many", vertices);
        }
        int node = node(asset, m);
        Scalp scalp = skin.isBlank() ? null : scalp(asset, node);
        List<Strands.Strand> kept = new ArrayList<>();
        for (int i = 0; i < strands.size(); i++) {
            if ((long) (i + 1) * many / strands.size() > (long) i * many / strands.size()) {
                kept.add(strands.get(i));
            }
        }
        List<Primitive> built = built(asset, mesh, node, kept, scalp, work);
        return Change.of(placed(asset, m, node, built, scalp))
                .count("strands", kept.size())
                .count(
                        "strand.triangles",
                        (long) kept.size() * StrandLevel.of(level).triangles());
    }

    private int node(Asset asset, int m) throws Refused {
        for (int n = 0; n < asset.nodes().size(); n++) {
            if (asset.nodes().get(n).mesh() == m) {
                return n;
            }
        }
        throw new Refused("strands.not.placed", part);
    }

    private List<Primitive> built(
            Asset asset, Mesh mesh, int node, List<Strands.Strand> strands, @Nullable Scalp scalp, Work work) {
        Matrix4d world = new Rig(asset).rest().world()[node];
        double unit = Math.cbrt(Math.abs(world.determinant3x3()))
                * asset.conventions().metresPerUnit()
                * 1000;
        double root = thicknessMillimetres / (unit > 0 ? unit : 1);
        Vector3d middle = new Vector3d();
        for (Strands.Strand s : strands) {
            middle.add(point(mesh, s, 0).div(strands.size()));
        }
        List<Primitive> out = new ArrayList<>();
        StrandLevel by = StrandLevel.of(level);
        for (int p = 0; p < mesh.primitives().size(); p++) {
            int number = p;
            List<Strands.Strand> own =
                    strands.stream().filter(s -> s.primitive() == number).toList();
            if (own.isEmpty()) {
                continue;
            }
            work.stopIfCancelled();
            Gathered all = new Gathered(own.size(), by);
            Influences rows = mesh.primitives().get(p).influences();
            Influences.Builder weights = new Influences.Builder(own.size() * by.vertices());
            for (Strands.Strand s : own) {
                List<Vector3d> points = new ArrayList<>();
                for (int i = 0; i < s.vertices().length; i++) {
                    points.add(point(mesh, s, i));
                }
                Vector3d away = new Vector3d(points.getFirst()).sub(middle);
                Influences from = scalp == null ? rows : scalp.rows;
                int row = s.vertices()[0];
                double width = root;
                if (scalp != null) {
                    row = scalp.nearest(world.transformPosition(new Vector3d(points.getFirst())));
                    Matrix4d change = scalp.back(row).mul(world);
                    points.forEach(change::transformPosition);
                    change.transformDirection(away);
                    width *= Math.cbrt(Math.abs(change.determinant3x3()));
                }
                all.add(by.build(points, away, width, width * tip));
                for (int v = 0; from != null && v < by.vertices(); v++) {
                    weights.copyRows(from, row, row + 1);
                }
            }
            Primitive was = mesh.primitives().get(p);
            boolean bound = scalp != null || rows != null;
            out.add(all.primitive(was.material(), bound ? weights.build() : null));
        }
        return out;
    }

    private static Vector3d point(Mesh mesh, Strands.Strand s, int i) {
        float[] p = mesh.primitives().get(s.primitive()).positions();
        int at = 3 * s.vertices()[i];
        return new Vector3d(p[at], p[at + 1], p[at + 2]);
    }

    /** Strands behind each other in one set of arrays. */
    private static final class Gathered {
        private final float[] positions;
        private final float[] normals;
        private final float[] uvs;
        private final int[] corners;
        private int vertices;
        private int end;

        Gathered(int strands, StrandLevel by) {
            positions = new float[3 * strands * by.vertices()];
            normals = new float[positions.length];
            uvs = new float[2 * strands * by.vertices()];
            corners = new int[3 * strands * by.triangles()];
        }

        void add(StrandLevel.Built one) {
            System.arraycopy(one.positions(), 0, positions, 3 * vertices, one.positions().length);
            System.arraycopy(one.normals(), 0, normals, 3 * vertices, one.normals().length);
            System.arraycopy(one.uvs(), 0, uvs, 2 * vertices, one.uvs().length);
            for (int c : one.corners()) {
                corners[end++] = c + vertices;
            }
            vertices += one.positions().length / 3;
        }

        Primitive primitive(int material, @Nullable Influences influences) {
            return new Primitive(
                    Primitive.Mode.TRIANGLES,
                    corners,
                    positions,
                    normals,
                    null,
                    List.of(new Attribute("TEXCOORD_0", 2, uvs, Storage.FLOAT)),
                    influences,
                    List.of(),
                    material,
                    Primitive.Layout.PLAIN,
                    Passthrough.NONE);
        }
    }

    /**
     * What strands grow from.
     *
     * @param rows  weights by place
     * @param moves of each joint of the skin at rest, times its inverse bind
     */
    private record Scalp(int skin, WeldedSurface surface, TriangleTree tree, Influences rows, Matrix4d[] moves) {
        int nearest(Vector3d at) {
            TriangleTree.Hit hit = tree.nearestPoint((float) at.x, (float) at.y, (float) at.z, t -> true);
            int t = hit == null ? 0 : hit.triangle();
            double u = hit == null ? 0 : hit.u();
            double v = hit == null ? 0 : hit.v();
            int corner = u >= v && u >= 1 - u - v ? 1 : v >= 1 - u - v ? 2 : 0;
            return surface.triangles()[3 * t + corner];
        }

        /** From the world back to where the row's skin has it at rest. */
        Matrix4d back(int row) {
            return Blend.of(rows, row, moves).invert();
        }
    }

    private Scalp scalp(Asset asset, int node) throws Refused {
        int body = Names.skinnedMesh(asset, skin);
        if (asset.nodes().get(node).skin() >= 0) {
            throw new Refused("strands.skinned", part);
        }
        int number = asset.skinOfMesh(body);
        Skin own = asset.skins().get(number);
        Matrix4d[] world = new Rig(asset).rest().world();
        Matrix4d[] moves = new Matrix4d[own.joints().length];
        for (int j = 0; j < moves.length; j++) {
            moves[j] = new Matrix4d(world[own.joints()[j]]).mul(own.inverseBind(j));
        }
        WeldedSurface surface = RestSurface.of(asset, body);
        if (surface.triangles().length == 0) {
            throw new Refused("strands.no.skin", skin);
        }
        return new Scalp(
                number,
                surface,
                new TriangleTree(surface.triangles(), surface.positions()),
                WeldedWeights.of(asset.meshes().get(body), surface),
                moves);
    }

    private Asset placed(Asset asset, int m, int node, List<Primitive> built, @Nullable Scalp scalp) {
        Mesh was = asset.meshes().get(m);
        Node stood = asset.nodes().get(node);
        int bySkin = scalp == null ? stood.skin() : scalp.skin;
        if (keepLines) {
            List<Mesh> meshes = new ArrayList<>(asset.meshes());
            String name = String.format(Locale.ROOT, "%s_level_%d", was.name(), level);
            meshes.add(Mesh.of(name, built.toArray(Primitive[]::new)));
            Node beside = stood.withName(name).withChildren().withMesh(meshes.size() - 1, bySkin);
            return NewNodes.beside(asset.withMeshes(meshes), node, beside);
        }
        List<Primitive> all = new ArrayList<>(
                was.primitives().stream().filter(p -> !isLine(p.mode())).toList());
        all.addAll(built);
        List<Node> nodes = new ArrayList<>(asset.nodes());
        if (scalp != null) {
            nodes.set(node, stood.withMesh(m, bySkin));
        }
        return asset.withMesh(m, new Mesh(was.name(), all, null, List.of(), was.carried()))
                .withNodes(nodes);
    }

    private static boolean isLine(Primitive.Mode mode) {
        return Arrays.asList(Primitive.Mode.LINES, Primitive.Mode.LINE_STRIP, Primitive.Mode.LINE_LOOP)
                .contains(mode);
    }
}
