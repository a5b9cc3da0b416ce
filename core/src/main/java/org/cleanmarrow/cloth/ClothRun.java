package org.cleanmarrow.cloth;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import org.cleanmarrow.caches.CacheBake;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.VertexFrames;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/**
 * Plays a clip and lets a cloth hang, swing and bump into the solid colliders of the asset while it does. The skin of the cloth
 * pulls it by its pins and by how far it may stray.
 *
 * <p>Not for several threads. Cost: frames times substeps times edges, and points times colliders that are near.
 */
public final class ClothRun {
    /** Slivers between points that lie on each other say nothing. */
    private static final double MOST_EDGES = 0.99;

    private final Rig rig;
    private final Deformer deformer;
    private final MeshPlace place;
    private final Clip clip;
    private final WeldedSurface surface;
    private final Sheet sheet;
    private final Fabric fabric;
    private final double metres;
    private final double[] down;
    private final List<Obstacle> obstacles = new ArrayList<>();
    private final List<Integer> standsAt = new ArrayList<>();
    private final int skipped;
    private final float[] posed;
    private double mostStretch;
    private double stretch;

    /** How many points are held, and by what. @param leashed within their reach */
    public record Held(int pinned, int leashed, int free) {}

    /**
     * @param played at the place with the cloth there is no cache in it
     * @throws org.cleanmarrow.model.Sheared where a collider would have to shear
     */
    public ClothRun(Asset asset, MeshPlace place, Fabric fabric, Clip played) {
        this.place = place;
        this.fabric = fabric;
        clip = played;
        rig = new Rig(asset);
        deformer = new Deformer(asset);
        metres = asset.conventions().metresPerUnit();
        Vector3d falls = asset.conventions().up().vector().negate();
        down = new double[] {falls.x, falls.y, falls.z};
        Mesh mesh = asset.meshes().get(place.mesh());
        surface = MeshTopology.of(mesh).welded(mesh);
        posed = new float[3 * mesh.vertexCount()];
        float[] strays = Strays.of(mesh);
        float[] byPlace = new float[surface.size()];
        Arrays.fill(byPlace, 1);
        for (int v = 0; v < strays.length; v++) {
            int at = surface.weldedOf(v);
            byPlace[at] = Math.min(byPlace[at], strays[v]);
        }
        sheet = Sheet.of(surface, skinned(rig.rest()), byPlace, fabric);
        int left = 0;
        Matrix4d[] rest = rig.rest().world();
        for (Collider c : Bodies.colliders(asset)) {
            if (c.role() == Collider.Role.SOLID && c.node() != place.node()) {
                Vector3d scale = rest[c.node()].getScale(new Vector3d()).mul(metres);
                Optional<Obstacle> o = Obstacle.of(c.moved(new Matrix4d().scaling(scale)));
                o.ifPresent(obstacles::add);
                if (o.isPresent()) {
                    standsAt.add(c.node());
                } else {
                    left++;
                }
            }
        }
        skipped = left;
    }

    /** Colliders that collide as they are drawn, or are flat: the cloth goes through them. */
    public int skipped() {
        return skipped;
    }

    public int obstacles() {
        return obstacles.size();
    }

    public Held held() {
        int pinned = 0;
        int leashed = 0;
        for (double reach : sheet.reaches()) {
            pinned += reach == 0 ? 1 : 0;
            leashed += reach > 0 && reach < Double.POSITIVE_INFINITY ? 1 : 0;
        }
        return new Held(pinned, leashed, sheet.size() - pinned - leashed);
    }

    /** How much longer than at rest the edges are, as a share: the mean in the worst frame. */
    public double stretch() {
        return stretch;
    }

    /** The same of 99 of 100 edges, in the worst frame. */
    public double mostStretch() {
        return mostStretch;
    }

    /**
     * The places of all vertices at moments of the clip, in the axes of the cloth's node.
     *
     * @param seconds one a frame, rising
     * @param settle  frames that it hangs in the first pose before the first of these
     * @throws java.util.concurrent.CancellationException when {@code work} was cancelled
     */
    public VertexFrames frames(float[] seconds, int settle, Work work) {
        stretch = 0;
        mostStretch = 0;
        return CacheBake.frames(posed.length / 3, seconds.length, work, new Played(seconds, settle, work));
    }

    /** Frames one after the other. */
    private final class Played implements CacheBake.Frame {
        private final float[] seconds;
        private final Work work;
        private final ClothSolver solver;
        private double[] meant;
        private Matrix4d[] world;

        Played(float[] seconds, int settle, Work work) {
            this.seconds = seconds;
            this.work = work;
            Pose first = rig.at(clip, seconds[0]);
            meant = skinned(first);
            world = first.world();
            solver = new ClothSolver(sheet, fabric, meant, down, obstacles);
            stand(world, world);
            obstacles.forEach(Obstacle::still);
            for (int k = 0; k < settle; k++) {
                solver.frame(meant, meant, 1 / clip.rate(), work);
            }
        }

        @Override
        public void put(int k, float[] out) {
            if (k > 0) {
                Pose pose = rig.at(clip, seconds[k]);
                double[] next = skinned(pose);
                Matrix4d[] there = pose.world();
                stand(world, there);
                solver.frame(meant, next, (double) seconds[k] - seconds[k - 1], work);
                meant = next;
                world = there;
            }
            measure(solver.positions());
            back(solver.positions(), world[place.node()].invert(new Matrix4d()), out);
        }
    }

    /** What moves it, at rest in the first pose. */
    ClothSolver solver() {
        return new ClothSolver(sheet, fabric, skinned(rig.at(clip, clip.start())), down, obstacles);
    }

    /** Where the skin has every point, in metres. */
    private double[] skinned(Pose pose) {
        deformer.deform(place, pose, pose.world(), new Matrix4d(), posed, null, true);
        double[] out = new double[3 * surface.size()];
        for (int p = 0; p < surface.size(); p++) {
            for (int k = 0; k < 3; k++) {
                out[3 * p + k] = posed[3 * surface.vertexOf(p) + k] * metres;
            }
        }
        return out;
    }

    private void stand(Matrix4d[] from, Matrix4d[] to) {
        for (int i = 0; i < obstacles.size(); i++) {
            obstacles.get(i).frame(unscaled(from[standsAt.get(i)]), unscaled(to[standsAt.get(i)]));
        }
    }

    /** In metres, with axes of unit length. */
    private Matrix4d unscaled(Matrix4d world) {
        Vector3d at = world.getTranslation(new Vector3d()).mul(metres);
        return new Matrix4d(world).normalize3x3(new Matrix4d()).setTranslation(at);
    }

    private void measure(double[] at) {
        double sum = 0;
        double whole = 0;
        double[] shares = new double[sheet.lengths().length];
        for (int e = 0; e < shares.length; e++) {
            double rest = sheet.lengths()[e];
            double longer = Math.max(0, Sheet.distance(at, sheet.edges()[2 * e], sheet.edges()[2 * e + 1]) - rest);
            sum += longer;
            whole += rest;
            shares[e] = rest > 0 ? longer / rest : 0;
        }
        Arrays.sort(shares);
        stretch = whole > 0 ? Math.max(stretch, sum / whole) : stretch;
        mostStretch = Math.max(mostStretch, shares.length == 0 ? 0 : shares[(int) (MOST_EDGES * (shares.length - 1))]);
    }

    private void back(double[] at, Matrix4d back, float[] into) {
        Vector3d p = new Vector3d();
        for (int v = 0; v < into.length / 3; v++) {
            int i = 3 * surface.weldedOf(v);
            back.transformPosition(p.set(at[i] / metres, at[i + 1] / metres, at[i + 2] / metres));
            into[3 * v] = (float) p.x;
            into[3 * v + 1] = (float) p.y;
            into[3 * v + 2] = (float) p.z;
        }
    }
}
