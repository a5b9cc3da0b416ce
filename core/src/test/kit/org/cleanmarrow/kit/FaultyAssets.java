package org.cleanmarrow.kit;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import org.cleanmarrow.convention.Conventions;
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
import org.cleanmarrow.model.Storage;
import org.joml.Quaterniond;
import org.joml.Vector3d;

/** Random assets with faults put in at random, as exporters and hurry leave them. The same seed gives the same. */
public final class FaultyAssets {
    private static final String[] CONVENTIONS = {"y-up-m-rh", "z-up-cm-lh", "y-up-m-lh", "z-up-m-rh", "y-up-cm-rh"};

    private final Random random;
    private Asset asset;

    private FaultyAssets(long seed) {
        random = new Random(seed * 31 + 5);
        asset = RandomAssets.of(seed, 4 + (int) (seed % 19), 60);
    }

    public static Asset of(long seed) {
        FaultyAssets made = new FaultyAssets(seed);
        List<Runnable> faults = List.of(
                made::weights,
                made::longRows,
                made::strays,
                made::names,
                made::twins,
                made::ends,
                made::turnedMeshNode,
                made::keysEverywhere,
                made::lostChannel,
                made::copies,
                made::conventions,
                made::levels,
                made::bigClip,
                made::unnamed,
                made::normals);
        for (Runnable fault : faults) {
            if (made.random.nextInt(3) == 0) {
                fault.run();
            }
        }
        return made.asset;
    }

    private void weights() {
        rows((weights, start, end) -> {
            for (int i = start; i < end; i++) {
                weights[i] *= 0.5f + random.nextFloat();
            }
        });
    }

    private void strays() {
        rows((weights, start, end) -> Arrays.fill(weights, start, end, 0));
    }

    private void normals() {
        Mesh mesh = asset.meshes().getFirst();
        Primitive p = mesh.primitives().getFirst();
        if (p.normals() == null) {
            return;
        }
        float[] normals = p.normals().clone();
        for (int v = 0; v < p.vertexCount(); v += 1 + random.nextInt(9)) {
            float by = random.nextInt(3) * 0.7f;
            for (int i = 0; i < 3; i++) {
                normals[v * 3 + i] *= by;
            }
        }
        asset = asset.withMesh(
                0, mesh.withPrimitives(List.of(p.withShape(p.positions(), normals, p.tangents(), p.targets()))));
    }

    private interface Edit {
        void row(float[] weights, int start, int end);
    }

    private void rows(Edit edit) {
        Mesh mesh = asset.meshes().getFirst();
        Primitive p = mesh.primitives().getFirst();
        Influences rows = p.influences();
        float[] weights = rows.weights().clone();
        for (int v = 0; v < rows.vertexCount(); v++) {
            if (random.nextInt(6) == 0) {
                edit.row(weights, rows.offsets()[v], rows.offsets()[v + 1]);
            }
        }
        asset = asset.withMesh(
                0,
                mesh.withPrimitives(List.of(p.withInfluences(new Influences(rows.offsets(), rows.joints(), weights)))));
    }

    private void longRows() {
        Mesh mesh = asset.meshes().getFirst();
        Primitive p = mesh.primitives().getFirst();
        int joints = asset.skins().getFirst().joints().length;
        Influences.Builder rows = new Influences.Builder(p.vertexCount());
        for (int v = 0; v < p.vertexCount(); v++) {
            if (random.nextInt(5) > 0) {
                rows.copyRows(p.influences(), v, v + 1);
                continue;
            }
            int many = Math.min(joints, 5 + random.nextInt(4));
            for (int j = 0; j < many; j++) {
                rows.add(j, 1f / many);
            }
            rows.endRow();
        }
        asset = asset.withMesh(0, mesh.withPrimitives(List.of(p.withInfluences(rows.build()))));
    }

    private void node(int n, Node changed) {
        List<Node> nodes = new ArrayList<>(asset.nodes());
        nodes.set(n, changed);
        asset = asset.withNodes(nodes);
    }

    private void names() {
        for (int n = 0; n < asset.nodes().size(); n++) {
            if (random.nextInt(5) == 0) {
                node(n, asset.nodes().get(n).withName("bad name:" + random.nextInt(4) + "é"));
            }
        }
        asset = asset.withMesh(0, asset.meshes().getFirst().withName("fi gure"));
    }

    private void twins() {
        int[] joints = asset.skins().getFirst().joints();
        for (int j = 0; j < joints.length; j += 2) {
            node(joints[j], asset.nodes().get(joints[j]).withName("arm"));
        }
    }

    private void unnamed() {
        for (int joint : asset.skins().getFirst().joints()) {
            if (random.nextBoolean()) {
                node(joint, asset.nodes().get(joint).withName(""));
            }
        }
    }

    /** A node at the end of a chain that no skin names. */
    private void ends() {
        int[] joints = asset.skins().getFirst().joints();
        int parent = joints[joints.length - 1];
        List<Node> nodes = new ArrayList<>(asset.nodes());
        Node up = nodes.get(parent);
        int[] children = Arrays.copyOf(up.children(), up.children().length + 1);
        children[children.length - 1] = nodes.size();
        nodes.set(parent, up.withChildren(children));
        String name = random.nextBoolean() ? "tip_end" : "tip";
        nodes.add(Node.group(name, Local.of(vector(), turn(), new Vector3d(1))));
        asset = asset.withNodes(nodes);
    }

    private Vector3d vector() {
        return new Vector3d(random.nextGaussian(), random.nextGaussian(), random.nextGaussian());
    }

    private Quaterniond turn() {
        return new Quaterniond().rotateXYZ(random.nextGaussian(), random.nextGaussian(), random.nextGaussian());
    }

    private void turnedMeshNode() {
        int figure = asset.nodes().size() - 1;
        while (asset.nodes().get(figure).skin() < 0) {
            figure--;
        }
        node(figure, asset.nodes().get(figure).withLocal(Local.of(vector(), turn(), new Vector3d(0.01))));
    }

    private void keysEverywhere() {
        asset = asset.mapClips(clip -> {
            List<Channel> channels = new ArrayList<>(clip.channels());
            for (int n = 0; n < asset.nodes().size(); n++) {
                int node = n;
                Local local = asset.nodes().get(n).local();
                if (channels.stream().noneMatch(c -> c.node() == node && c.path() == Channel.Path.ROTATION)) {
                    channels.add(held(n, Channel.Path.ROTATION, local.rotation()));
                }
                channels.add(held(n, Channel.Path.SCALE, local.scale()));
            }
            return clip.withChannels(channels);
        });
    }

    private static Channel held(int node, Channel.Path path, float[] value) {
        float[] twice = Arrays.copyOf(value, value.length * 2);
        System.arraycopy(value, 0, twice, value.length, value.length);
        float[] times = {1 / 24f, 5 / 24f};
        return new Channel(
                node,
                path,
                new Sampler(Sampler.Interpolation.LINEAR, times, twice, value.length, Storage.FLOAT),
                "",
                Passthrough.NONE);
    }

    private void lostChannel() {
        asset = asset.mapClips(clip -> {
            List<Channel> channels = new ArrayList<>(clip.channels());
            channels.add(new Channel(
                    -1, Channel.Path.ROTATION, channels.getFirst().sampler(), "left_tentacle", Passthrough.NONE));
            return clip.withChannels(channels);
        });
    }

    private void copies() {
        List<Mesh> meshes = new ArrayList<>(asset.meshes());
        List<Node> nodes = new ArrayList<>(asset.nodes());
        meshes.add(meshes.get(1).withName("crate_again"));
        int tool = nodes.size() - 1;
        while (nodes.get(tool).mesh() != 1) {
            tool--;
        }
        nodes.set(tool, nodes.get(tool).withMesh(meshes.size() - 1, -1));
        asset = asset.withMeshes(meshes).withNodes(nodes);
    }

    private void conventions() {
        asset = asset.withConventions(Conventions.parse(CONVENTIONS[random.nextInt(CONVENTIONS.length)])
                .orElseThrow());
    }

    private void levels() {
        for (int n = 0; n < asset.nodes().size(); n++) {
            Node node = asset.nodes().get(n);
            if (node.mesh() == 1) {
                node(n, node.withName("crate_LOD" + n % 3));
            }
        }
    }

    private void bigClip() {
        List<Clip> clips = new ArrayList<>(asset.clips());
        List<Channel> channels = new ArrayList<>();
        for (int joint : asset.skins().getFirst().joints()) {
            float[] rest = asset.nodes().get(joint).local().translation().clone();
            for (int i = 0; i < 3; i++) {
                rest[i] *= 100;
            }
            channels.add(held(joint, Channel.Path.TRANSLATION, rest));
        }
        clips.add(new Clip("hundredfold", channels, 24, false, true, Passthrough.NONE));
        asset = asset.withClips(clips);
    }
}
