package org.cleanmarrow.steps.caches;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import org.cleanmarrow.caches.CacheFit;
import org.cleanmarrow.caches.CacheUse;
import org.cleanmarrow.edit.Clips;
import org.cleanmarrow.edit.Timing;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.VertexTrack;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.text.Length;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.joml.Matrix3d;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.jspecify.annotations.Nullable;

/**
 * Lays a vertex cache that came back from elsewhere on the mesh that it is of: finds the factor of the unit, the turn of axes and the
 * frames that it is late ({@link CacheFit}), by the mesh as a clip moves it, or by its rest where none does; says what it found, how
 * far off that leaves the vertices, and what came next. Where nothing is clearly nearest it is refused with both, and parameters say
 * which. Frames before the clip begins and after it ends, the lead-in of a simulation, are cut off.
 */
@StepInfo(
        name = "fit-cache",
        says =
                "Finds by itself the unit, axes and shift in frames that lay a returned cache on its mesh, and says them.")
public record FitCache(
        @Parameter(says = "name of the mesh") String mesh,

        @Parameter(says = "name of the cache's clip; none: the only one with a cache of the mesh", fallback = "\"\"")
        String cache,

        @Parameter(
                says = "name of the clip that it was simulated on; none: the one it lies nearest to, or the rest pose",
                fallback = "\"\"")
        String clip,

        @Parameter(says = "what lengths are multiplied by; 0: found", fallback = "0", least = 0)
        double factor,

        @Parameter(says = "where the x, y and z axes go, such as x,z,-y; none: found", fallback = "\"\"")
        String axes,

        @Parameter(says = "frames that it is late, such as 12; none: found", fallback = "\"\"")
        String frames)
        implements Step {
    /** Frames to either side that are tried. */
    private static final int MOST_SHIFT = 240;

    private static final int MOST_FRAMES = 100_000;

    public FitCache(String mesh) {
        this(mesh, "", "", 0, "", "");
    }

    @Override
    public boolean reinterprets() {
        return true;
    }

    /** What it is laid on: a clip without the cache, or rest. */
    private record Meant(String name, CacheFit.Frames frames, int last, boolean rest) {}

    /** @param about the axes that it was changed in: the world's, or those of the mesh's node */
    private record Best(Meant meant, CacheFit.Found found, Matrix4d about) {}

    /**
     * How late a cache is.
     *
     * @param clip     the clip that it was simulated on, and its frames
     * @param off      metres that it is off in the mean once it is shifted
     * @param asItIs   metres that it is off now
     */
    public record Late(int frames, String clip, double off, double asItIs) {}

    /**
     * How late a cache is whose unit and axes are right, against the clip it lies nearest to; empty where no clip moves its mesh in
     * another way, or where that cannot be told. Cost: as fitting, twice.
     */
    public static Optional<Late> late(Asset asset, String mesh, String cache, Work work) {
        FitCache free = new FitCache(mesh, cache, "", 1, "x,y,z", "");
        FitCache still = new FitCache(mesh, cache, "", 1, "x,y,z", "0");
        try {
            CacheUse use = free.use(asset);
            Best best = free.best(asset, use, work);
            Best now = still.best(asset, use, work);
            double metres = asset.conventions().metresPerUnit();
            return best == null || now == null || best.meant.rest || !best.found.sure()
                    ? Optional.empty()
                    : Optional.of(new Late(
                            best.found.best().shift(),
                            best.meant.name,
                            off(best.found, best.about) * metres,
                            off(now.found, now.about) * metres));
        } catch (Refused unclear) {
            return Optional.empty();
        }
    }

    private @Nullable Best best(Asset asset, CacheUse use, Work work) throws Refused {
        Deformer deformer = new Deformer(asset);
        MeshPlace place = deformer.places().stream()
                .filter(p -> p.node() == use.node())
                .findFirst()
                .orElseThrow();
        int[] points = CacheFit.points(use.track().vertices());
        Matrix4d node = new Rig(asset).rest().world()[use.node()];
        CacheFit.Frames came = came(asset, use, points);
        List<Meant> meant = meant(asset, use, deformer, place, points, work);
        double size = size(meant.getLast().frames.at().getFirst());
        CacheFit.Told told = new CacheFit.Told(
                factor, axes.isBlank() ? null : parsed(axes), frames.isBlank() ? null : whole(frames));
        Best best = null;
        for (Meant one : meant) {
            work.stopIfCancelled();
            // Numbers of the world that were put at a node, or of the mesh itself: both are met.
            for (Matrix4d about : node.equals(new Matrix4d(), 1e-9) ? List.of(node) : List.of(new Matrix4d(), node)) {
                CacheFit.Frames of = within(about, came);
                Optional<CacheFit.Found> found = CacheFit.find(
                        one.rest ? new CacheFit.Frames(of.first(), of.at().subList(0, 1)) : of,
                        within(about, one.frames),
                        size / scale(about),
                        one.rest ? 0 : MOST_SHIFT,
                        told);
                if (found.isPresent() && (best == null || off(found.get(), about) < off(best.found, best.about))) {
                    best = new Best(one, found.get(), about);
                }
            }
        }
        return best;
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (!(factor >= 0) || Double.isInfinite(factor)) {
            throw new Refused("cache.fit.factor", factor);
        }
        CacheUse use = use(asset);
        Best best = best(asset, use, work);
        if (best == null) {
            throw new Refused("cache.fit.nothing", mesh);
        }
        Clip own = asset.clips().get(use.clip());
        Matrix4d node = new Rig(asset).rest().world()[use.node()];
        CacheFit.Guess guess = best.found.best();
        double metres = asset.conventions().metresPerUnit() * scale(best.about);
        if (!best.found.sure()) {
            CacheFit.Guess second = best.found.second().orElseThrow();
            throw new Refused(
                    "cache.fit.undecided",
                    guess.factor(),
                    guess.axes(),
                    guess.shift(),
                    new Length(guess.off() * metres),
                    second.factor(),
                    second.axes(),
                    second.shift(),
                    new Length(second.off() * metres));
        }
        Matrix4d to = best.about.invert(new Matrix4d()).mul(node);
        Matrix4d change = to.invert(new Matrix4d())
                .mul(new Matrix4d().set3x3(guess.turn()).scale(guess.factor()))
                .mul(to);
        Channel channel = own.channels().get(use.channel());
        VertexTrack moved = use.track().moved(change);
        Asset out = use.replaced(asset, List.of(channel.withTrack(moved)));
        out = shifted(out, use, guess.shift(), best.meant);
        Change done = Change.of(out)
                .note(
                        "cache.fitted",
                        guess.factor(),
                        guess.axes(),
                        guess.shift(),
                        best.meant.name,
                        new Length(guess.off() * metres),
                        guess.shared());
        return best.found.second().isEmpty()
                ? done
                : done.note(
                        "cache.fit.second",
                        best.found.second().get().factor(),
                        best.found.second().get().axes(),
                        best.found.second().get().shift(),
                        new Length(best.found.second().get().off() * metres));
    }

    private static double scale(Matrix4d about) {
        return Math.cbrt(Math.abs(about.determinant3x3()));
    }

    /** In the world's lengths. */
    private static double off(CacheFit.Found found, Matrix4d about) {
        return found.best().off() * scale(about);
    }

    /** The same frames in other axes. */
    private static CacheFit.Frames within(Matrix4d about, CacheFit.Frames frames) {
        Matrix4d back = about.invert(new Matrix4d());
        int[] all = new int[frames.at().getFirst().length / 3];
        Arrays.setAll(all, i -> i);
        return new CacheFit.Frames(
                frames.first(),
                frames.at().stream().map(p -> placed(p, all, back)).toList());
    }

    private CacheUse use(Asset asset) throws Refused {
        CacheUse use = OneCache.of(asset, mesh, cache);
        if (!use.fits(asset)) {
            throw new Refused(
                    "cache.count",
                    mesh,
                    asset.meshes().get(use.mesh()).vertexCount(),
                    use.track().vertices());
        }
        return use;
    }

    private static CacheFit.Frames came(Asset asset, CacheUse use, int[] points) {
        Clip clip = asset.clips().get(use.clip());
        Matrix4d world = new Rig(asset).rest().world()[use.node()];
        List<float[]> at = new ArrayList<>();
        for (int f = clip.firstFrame(); f <= clip.lastFrame(); f++) {
            float[] all = use.track().positions(Timing.seconds(clip, f));
            at.add(placed(all, points, world));
        }
        return new CacheFit.Frames(clip.firstFrame(), at);
    }

    private static float[] placed(float[] all, int[] points, Matrix4d world) {
        float[] out = new float[3 * points.length];
        Vector3d p = new Vector3d();
        for (int i = 0; i < points.length; i++) {
            int v = 3 * points[i];
            world.transformPosition(p.set(all[v], all[v + 1], all[v + 2]));
            out[3 * i] = (float) p.x;
            out[3 * i + 1] = (float) p.y;
            out[3 * i + 2] = (float) p.z;
        }
        return out;
    }

    /** The clips that move the mesh in some other way than by the cache, or the one asked for; rest where there is none. */
    private List<Meant> meant(Asset asset, CacheUse use, Deformer deformer, MeshPlace place, int[] points, Work work)
            throws Refused {
        int asked = clip.isBlank() ? -1 : Clips.number(asset, clip);
        double rate = asset.clips().get(use.clip()).rate();
        Rig rig = new Rig(asset);
        float[] rest = frame(deformer, place, rig.rest(), points);
        List<Meant> out = new ArrayList<>();
        for (int c = 0; c < asset.clips().size(); c++) {
            Clip other = asset.clips().get(c);
            List<Channel> channels =
                    other.channels().stream().filter(x -> !x.movesVertices()).toList();
            if (channels.isEmpty() || asked >= 0 && c != asked) {
                continue;
            }
            Clip bare = other.withChannels(channels);
            int first = (int) Math.rint(bare.start() * rate);
            int last = (int) Math.rint(bare.end() * rate);
            if (last - first > MOST_FRAMES) {
                throw new Refused("cache.fit.long", other.name(), last - first);
            }
            List<float[]> at = new ArrayList<>();
            boolean moves = false;
            for (int f = first; f <= last; f++) {
                work.stopIfCancelled();
                at.add(frame(deformer, place, rig.at(bare, f / rate), points));
                moves |= apart(at.getLast(), at.getFirst());
            }
            if (moves || asked >= 0) {
                out.add(new Meant(
                        Clips.range(other) + " " + other.name(), new CacheFit.Frames(first, at), last, false));
            }
        }
        if (out.isEmpty()) {
            // A simulation starts at rest (common practice): its first frame is laid on that.
            CacheFit.Frames still =
                    new CacheFit.Frames(asset.clips().get(use.clip()).firstFrame(), List.of(rest));
            out.add(new Meant("rest", still, 0, true));
        }
        return out;
    }

    private static boolean apart(float[] a, float[] b) {
        for (int i = 0; i < a.length; i++) {
            if (Math.abs(a[i] - b[i]) > 1e-6f * (Math.abs(a[i]) + Math.abs(b[i]))) {
                return true;
            }
        }
        return false;
    }

    private static float[] frame(Deformer deformer, MeshPlace place, Pose pose, int[] points) {
        float[] out = new float[3 * points.length];
        deformer.deformSome(place, pose, pose.world(), new Matrix4d(), points, out);
        return out;
    }

    private static double size(float[] p) {
        Box box = Box.empty();
        box.grow(p);
        return box.diagonal();
    }

    private static Asset shifted(Asset asset, CacheUse use, int late, Meant meant) throws Refused {
        if (late == 0 && meant.rest) {
            return asset;
        }
        Clip clip = asset.clips().get(use.clip());
        int first = Math.max(clip.firstFrame(), meant.rest ? late : meant.frames.first() + late);
        int last = Math.min(clip.lastFrame(), meant.rest ? clip.lastFrame() : meant.last + late);
        boolean whole = first == clip.firstFrame() && last == clip.lastFrame();
        if (late == 0 && whole) {
            return asset;
        }
        if (clip.channels().size() > 1) {
            throw new Refused("cache.fit.with.others", clip.name());
        }
        if (first >= last) {
            throw new Refused("cache.fit.apart", clip.name());
        }
        Clip cut = whole ? clip : Timing.cut(clip, Timing.seconds(clip, first), Timing.seconds(clip, last));
        List<Clip> clips = new ArrayList<>(asset.clips());
        clips.set(use.clip(), Timing.shifted(cut, -late));
        return asset.withClips(clips);
    }

    private static int whole(String text) throws Refused {
        try {
            return Integer.parseInt(text.strip());
        } catch (NumberFormatException e) {
            throw new Refused("cache.fit.frames", text);
        }
    }

    private static Matrix3d parsed(String axes) throws Refused {
        String[] parts = axes.split(",");
        Matrix3d out = new Matrix3d().zero();
        for (int column = 0; column < parts.length && parts.length == 3; column++) {
            String axis = parts[column].strip();
            boolean minus = axis.startsWith("-");
            int row = "xyz".indexOf(minus ? axis.substring(1) : axis);
            if (row >= 0 && axis.length() == (minus ? 2 : 1)) {
                out.set(column, row, minus ? -1 : 1);
            }
        }
        if (Math.abs(Math.abs(out.determinant()) - 1) > 1e-9) {
            throw new Refused("cache.fit.axes", axes);
        }
        return out;
    }
}
