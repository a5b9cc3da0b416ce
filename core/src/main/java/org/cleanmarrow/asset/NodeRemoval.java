package org.cleanmarrow.asset;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/** Takes nodes out of an asset and renumbers all that refers to nodes and joints. */
public final class NodeRemoval {
    private final Asset asset;
    private final int[] newNumber;

    private NodeRemoval(Asset asset, BitSet gone) {
        this.asset = asset;
        newNumber = new int[asset.nodes().size()];
        int next = 0;
        for (int n = 0; n < newNumber.length; n++) {
            newNumber[n] = gone.get(n) ? -1 : next++;
        }
    }

    /**
     * The asset without the nodes. Their channels go too. They must bear no weight and have no children that stay.
     */
    public static Asset of(Asset asset, BitSet gone) {
        return new NodeRemoval(asset, gone).run();
    }

    private Asset run() {
        List<Node> nodes = new ArrayList<>();
        for (int n = 0; n < newNumber.length; n++) {
            if (newNumber[n] >= 0) {
                nodes.add(asset.nodes()
                        .get(n)
                        .withChildren(kept(asset.nodes().get(n).children())));
            }
        }
        int[][] newJoint = new int[asset.skins().size()][];
        List<Skin> skins = new ArrayList<>();
        for (int s = 0; s < newJoint.length; s++) {
            skins.add(skin(asset.skins().get(s), newJoint, s));
        }
        List<Clip> clips = asset.clips().stream()
                .map(c -> c.withChannels(c.channels().stream()
                        .filter(x -> x.node() < 0 || newNumber[x.node()] >= 0)
                        .map(x -> x.node() < 0 ? x : x.withNode(newNumber[x.node()]))
                        .toList()))
                .toList();
        List<Scene> scenes = asset.scenes().stream()
                .map(s -> new Scene(s.name(), kept(s.roots()), s.carried()))
                .toList();
        return asset.withNodes(nodes)
                .withSkins(skins)
                .withMeshes(meshes(newJoint))
                .withClips(clips)
                .withScenes(scenes);
    }

    private int[] kept(int[] numbers) {
        return Arrays.stream(numbers).map(n -> newNumber[n]).filter(n -> n >= 0).toArray();
    }

    private Skin skin(Skin skin, int[][] newJoint, int s) {
        int count = skin.joints().length;
        newJoint[s] = new int[count];
        int[] joints = new int[count];
        float[] binds = skin.inverseBinds() == null ? null : new float[count * 16];
        int next = 0;
        for (int j = 0; j < count; j++) {
            int node = newNumber[skin.joints()[j]];
            newJoint[s][j] = node < 0 ? -1 : next;
            if (node >= 0) {
                if (binds != null) {
                    System.arraycopy(skin.inverseBinds(), j * 16, binds, next * 16, 16);
                }
                joints[next++] = node;
            }
        }
        int skeleton = skin.skeleton() < 0 ? -1 : newNumber[skin.skeleton()];
        float[] kept = binds == null ? null : Arrays.copyOf(binds, next * 16);
        return skin.with(Arrays.copyOf(joints, next), kept, skeleton);
    }

    private List<Mesh> meshes(int[][] newJoint) {
        Map<Influences, Influences> done = new HashMap<>();
        List<Mesh> meshes = new ArrayList<>();
        for (int m = 0; m < asset.meshes().size(); m++) {
            Mesh mesh = asset.meshes().get(m);
            int skin = asset.skinOfMesh(m);
            if (skin < 0 || !mesh.skinned() || isCounting(newJoint[skin])) {
                meshes.add(mesh);
                continue;
            }
            meshes.add(mesh.withPrimitives(mesh.primitives().stream()
                    .map(p -> p.influences() == null ? p : renumbered(p, done, newJoint[skin]))
                    .toList()));
        }
        return meshes;
    }

    private static Primitive renumbered(Primitive p, Map<Influences, Influences> done, int[] newJoint) {
        return p.withRenumbered(done.computeIfAbsent(p.influences(), i -> i.renumbered(newJoint)));
    }

    private static boolean isCounting(int[] numbers) {
        for (int i = 0; i < numbers.length; i++) {
            if (numbers[i] != i) {
                return false;
            }
        }
        return true;
    }
}
