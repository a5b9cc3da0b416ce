package org.cleanmarrow.bench;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.function.IntFunction;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.formats.gltf.GltfReader;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.pose.RestBox;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.roles.Body;
import org.cleanmarrow.steps.skeleton.OrientJoints;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;

/**
 * How work grows with what there is much of, at four sizes each: mesh instances, joints, clips, islands of a skin, and
 * meshes of other topologies with one vertex a kilometre away. The exponent is the slope of time over size, both in
 * logarithms; 1 is in step, 2 quadratic. {@code ./marrow bench growth}.
 */
final class GrowthBench {
    private static final double MOST = 1.2;
    /** Times below this, in milliseconds, are too short for their slope to say anything. */
    private static final double LEAST = 8;

    private GrowthBench() {}

    private interface Job {
        void run(Asset asset) throws Exception;
    }

    static void run(Report report) throws Exception {
        Map<String, IntFunction<Asset>> kinds = new LinkedHashMap<>();
        kinds.put("instances", GrowthBench::instances);
        kinds.put("joints", n -> chains(n, 1));
        kinds.put("clips", n -> chains(40, n));
        kinds.put("islands", GrowthBench::islands);
        Map<String, int[]> sizes = Map.of(
                "instances", new int[] {6_250, 12_500, 25_000, 50_000},
                "joints", new int[] {250, 500, 1000, 2000},
                "clips", new int[] {50, 100, 200, 400},
                "islands", new int[] {500, 1000, 2000, 4000});
        Target target = Target.named("z-up-cm-lh").orElseThrow();
        Map<String, Job> jobs = new LinkedHashMap<>();
        jobs.put("open", a -> GltfReader.read(GltfWriter.glb(a), "grown.glb", null, Work.QUIET));
        jobs.put("inspect", a -> {
            RestBox.of(a);
            Body.of(a);
        });
        jobs.put("check", a -> Checks.run(a, target, Work.QUIET));
        jobs.put(
                "compare",
                a -> MotionProbe.compare(
                        a, a.withNodes(new ArrayList<>(a.nodes())).withName("b"), Work.QUIET));
        for (var kind : kinds.entrySet()) {
            for (var job : jobs.entrySet()) {
                measure(
                        report,
                        job.getKey() + ", " + kind.getKey(),
                        sizes.get(kind.getKey()),
                        kind.getValue(),
                        job.getValue());
            }
        }
        measure(
                report,
                "turn all joints, joints",
                sizes.get("joints"),
                n -> chains(n, 1),
                a -> new OrientJoints("*", OrientJoints.Along.Y).apply(a, Work.QUIET));
        measure(
                report,
                "compare, far vertex",
                new int[] {5_000, 10_000, 20_000, 40_000},
                n -> sheet(n, 0),
                a -> MotionProbe.compare(a, sheet(a.meshes().getFirst().vertexCount() - 7, 1000), Work.QUIET));
    }

    private static void measure(Report report, String what, int[] sizes, IntFunction<Asset> make, Job job)
            throws Exception {
        double[] millis = new double[sizes.length];
        for (int i = 0; i < sizes.length; i++) {
            Asset asset = make.apply(sizes[i]);
            double best = Double.POSITIVE_INFINITY;
            for (int round = 0; round < 3; round++) {
                long start = System.nanoTime();
                job.run(asset);
                best = Math.min(best, (System.nanoTime() - start) / 1e6);
            }
            millis[i] = best;
        }
        double slope = slope(sizes, millis);
        boolean tells = millis[millis.length - 1] >= LEAST;
        String times = Arrays.stream(millis)
                .mapToObj(m -> String.format(Locale.ROOT, "%.0f", m))
                .reduce((a, b) -> a + " " + b)
                .orElse("");
        report.slope(what, times, slope, MOST, !tells || slope < MOST);
    }

    private static double slope(int[] sizes, double[] millis) {
        double mx = 0;
        double my = 0;
        for (int i = 0; i < sizes.length; i++) {
            mx += Math.log(sizes[i]) / sizes.length;
            my += Math.log(millis[i]) / sizes.length;
        }
        double above = 0;
        double below = 0;
        for (int i = 0; i < sizes.length; i++) {
            above += (Math.log(sizes[i]) - mx) * (Math.log(millis[i]) - my);
            below += (Math.log(sizes[i]) - mx) * (Math.log(sizes[i]) - mx);
        }
        return above / below;
    }

    private static Asset instances(int many) {
        List<Node> nodes = new ArrayList<>();
        int[] children = new int[many];
        for (int i = 0; i < many; i++) {
            children[i] = i + 1;
        }
        nodes.add(Node.group("all", Local.IDENTITY, children));
        for (int i = 0; i < many; i++) {
            nodes.add(Node.group("plank_" + i, Local.at(i % 100, 0, i / 100)).withMesh(0, -1));
        }
        return Asset.of("instances", Conventions.GLTF, nodes, List.of(sheetMesh(60, 0)), List.of(), List.of());
    }

    private static Mesh sheetMesh(int vertices, double far) {
        int wide = Math.max(2, (int) Math.sqrt(vertices));
        int high = vertices / wide;
        float[] p = new float[wide * high * 3];
        List<Integer> corners = new ArrayList<>();
        for (int y = 0; y < high; y++) {
            for (int x = 0; x < wide; x++) {
                int v = y * wide + x;
                p[v * 3] = x / (float) wide;
                p[v * 3 + 1] = (float) Math.sin(x * 0.3) * 0.1f;
                p[v * 3 + 2] = y / (float) wide;
                if (x > 0 && y > 0) {
                    corners.addAll(List.of(v - wide - 1, v - wide, v, v - wide - 1, v, v - 1));
                }
            }
        }
        p[1] += (float) far;
        return Mesh.of(
                "sheet", Primitive.triangles(corners.stream().mapToInt(i -> i).toArray(), p, null, -1));
    }

    private static Asset sheet(int vertices, double far) {
        return Asset.of(
                "sheet",
                Conventions.GLTF,
                List.of(Node.group("sheet", Local.IDENTITY).withMesh(0, -1)),
                List.of(sheetMesh(vertices, far)),
                List.of(),
                List.of());
    }

    /** Chains of ten joints from one top, ten vertices a joint. */
    private static Asset chains(int joints, int clips) {
        List<Node> nodes = new ArrayList<>();
        List<List<Integer>> below = new ArrayList<>();
        for (int j = 0; j < joints; j++) {
            below.add(new ArrayList<>());
            if (j > 0) {
                below.get(j % 10 == 1 || j == 1 ? 0 : j - 1).add(j);
            }
        }
        for (int j = 0; j < joints; j++) {
            nodes.add(Node.group(
                    "j_" + j,
                    Local.at(j % 10 == 1 ? j * 0.01 : 0, j == 0 ? 0 : 0.1, 0),
                    below.get(j).stream().mapToInt(i -> i).toArray()));
        }
        nodes.add(Node.group("skin", Local.IDENTITY).withMesh(0, 0));
        int count = joints * 10;
        float[] p = new float[count * 3];
        Influences.Builder rows = new Influences.Builder(count);
        int[] corners = new int[(count - 2) * 3];
        Asset bare = Asset.of("chains", Conventions.GLTF, nodes, List.of(sheetMesh(60, 0)), List.of(), List.of());
        Matrix4d[] world = new Rig(bare).rest().world();
        int[] list = new int[joints];
        Matrix4d[] binds = new Matrix4d[joints];
        for (int j = 0; j < joints; j++) {
            list[j] = j;
            binds[j] = new Matrix4d(world[j]).invert();
        }
        for (int v = 0; v < count; v++) {
            int j = v / 10;
            p[v * 3] = (float) (world[j].m30() + 0.02 * Math.cos(v));
            p[v * 3 + 1] = (float) (world[j].m31() + 0.01 * (v % 10));
            p[v * 3 + 2] = (float) (0.02 * Math.sin(v));
            rows.add(j, 1);
            rows.endRow();
        }
        for (int t = 0; t < count - 2; t++) {
            corners[t * 3] = t;
            corners[t * 3 + 1] = t + 1;
            corners[t * 3 + 2] = t + 2;
        }
        List<Clip> all = new ArrayList<>();
        for (int c = 0; c < clips; c++) {
            List<Channel> channels = new ArrayList<>();
            for (int j = 0; j < joints; j += 4) {
                float[] times = {0, 0.25f, 0.5f};
                float[] q = {0, 0, 0, 1, 0, 0, 0.1f, 0.995f, 0, 0, 0, 1};
                channels.add(new Channel(
                        j,
                        Channel.Path.ROTATION,
                        new Sampler(Sampler.Interpolation.LINEAR, times, q, 4, Storage.FLOAT),
                        "",
                        Passthrough.NONE));
            }
            all.add(new Clip("clip_" + c, channels, 30, false, true, Passthrough.NONE));
        }
        Mesh mesh = Mesh.of("skin", Primitive.triangles(corners, p, null, -1).withInfluences(rows.build()));
        return bare.withMeshes(List.of(mesh))
                .withSkins(List.of(new Skin("skin", list, Skin.pack(binds), -1, Passthrough.NONE)))
                .withClips(all);
    }

    /** So many loose triangles on forty joints. */
    private static Asset islands(int many) {
        Asset base = chains(40, 2);
        int count = many * 3;
        float[] p = new float[count * 3];
        int[] corners = new int[count];
        Influences.Builder rows = new Influences.Builder(count);
        for (int v = 0; v < count; v++) {
            int t = v / 3;
            p[v * 3] = (t % 40) * 0.1f + (v % 3 == 1 ? 0.02f : 0);
            p[v * 3 + 1] = t / 40 * 0.05f + (v % 3 == 2 ? 0.02f : 0);
            corners[v] = v;
            rows.add(t % 40, 1);
            rows.endRow();
        }
        return base.withMesh(
                0, Mesh.of("skin", Primitive.triangles(corners, p, null, -1).withInfluences(rows.build())));
    }
}
