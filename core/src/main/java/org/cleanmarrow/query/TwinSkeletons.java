package org.cleanmarrow.query;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.IntStream;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.geometry.DisjointSets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.pose.Rig;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/**
 * Two skeletons of one asset that are meant to be one, such as that of a body and that which its garment brought along: no joint of the
 * one is of the other, at least half of the smaller one's joints are called as joints of the larger are, and most of those rest where
 * these do: two people of one rig who stand apart are two. Of names what stands behind the last colon counts, without the digits that
 * programs put behind a name that is taken. The copy is that of which clips move fewer joints, which moves fewer vertices, or which
 * comes later.
 *
 * @param joints node of each of the other skeleton's by each of the copy's that is called like it; never one that is itself a copy's
 * @param skins  numbers of the copy's skins
 * @param many   how many joints the copy has
 */
public record TwinSkeletons(Map<Integer, Integer> joints, List<Integer> skins, int many) {
    private static final int FEWEST = 3;
    /** Of a skeleton's size: joints that rest no farther apart may be one. */
    private static final double NEAR = 0.05;

    /** All copies, each of the first that it could be of. Cost: as the joints, for each pair of skeletons. */
    public static List<TwinSkeletons> of(Asset asset) {
        List<List<Integer>> skeletons = skeletons(asset);
        if (skeletons.size() < 2) {
            return List.of();
        }
        List<int[]> joints = skeletons.stream()
                .map(skins -> skins.stream()
                        .flatMapToInt(s -> Arrays.stream(asset.skins().get(s).joints()))
                        .distinct()
                        .toArray())
                .toList();
        List<Integer> order = new ArrayList<>();
        for (int i = 0; i < skeletons.size(); i++) {
            order.add(i);
        }
        Matrix4d[] rest = new Rig(asset).rest().world();
        BitSet moved = asset.animatedNodes();
        order.sort(Comparator.<Integer>comparingLong(
                        i -> -Arrays.stream(joints.get(i)).filter(moved::get).count())
                .thenComparingLong(i -> -vertices(asset, skeletons.get(i))));
        List<TwinSkeletons> out = new ArrayList<>();
        Map<Integer, Integer> copied = new HashMap<>();
        for (int k = 1; k < order.size(); k++) {
            int[] own = joints.get(order.get(k));
            for (int i = 0; i < k; i++) {
                int[] other = joints.get(order.get(i));
                Map<Integer, Integer> alike = alike(asset, other, own);
                if (alike.size() >= FEWEST
                        && 2 * alike.size() >= Math.min(own.length, other.length)
                        && nearEachOther(rest, alike)) {
                    // A copy of what is a copy itself is one of the first.
                    alike.replaceAll((joint, same) -> copied.getOrDefault(same, same));
                    copied.putAll(alike);
                    out.add(new TwinSkeletons(alike, skeletons.get(order.get(k)), own.length));
                    break;
                }
            }
        }
        return out;
    }

    /** Skins that have joints in common, directly or through others. */
    private static List<List<Integer>> skeletons(Asset asset) {
        DisjointSets sets = new DisjointSets(asset.skins().size());
        Map<Integer, Integer> first = new HashMap<>();
        for (int s = 0; s < asset.skins().size(); s++) {
            Skin skin = asset.skins().get(s);
            for (int joint : skin.joints()) {
                Integer before = first.putIfAbsent(joint, s);
                if (before != null) {
                    sets.join(before, s);
                }
            }
        }
        int[] number = sets.numbered();
        Map<Integer, List<Integer>> out = new LinkedHashMap<>();
        for (int s = 0; s < number.length; s++) {
            out.computeIfAbsent(number[s], k -> new ArrayList<>()).add(s);
        }
        return List.copyOf(out.values());
    }

    private static boolean nearEachOther(Matrix4d[] rest, Map<Integer, Integer> alike) {
        Box box = Box.empty();
        double[] apart = new double[alike.size()];
        int next = 0;
        for (Map.Entry<Integer, Integer> pair : alike.entrySet()) {
            Vector3d here = rest[pair.getKey()].getTranslation(new Vector3d());
            Vector3d there = rest[pair.getValue()].getTranslation(new Vector3d());
            box.grow(there.x, there.y, there.z);
            apart[next++] = here.distance(there);
        }
        Arrays.sort(apart);
        return apart[apart.length / 2] <= NEAR * box.diagonal();
    }

    private static long vertices(Asset asset, List<Integer> skins) {
        return IntStream.range(0, asset.meshes().size())
                .filter(m -> skins.contains(asset.skinOfMesh(m)))
                .mapToLong(m -> asset.meshes().get(m).vertexCount())
                .sum();
    }

    private static Map<Integer, Integer> alike(Asset asset, int[] other, int[] copy) {
        Map<String, Integer> known = byName(asset, other);
        Map<Integer, Integer> out = new LinkedHashMap<>();
        byName(asset, copy).forEach((name, node) -> {
            Integer same = known.get(name);
            if (same != null) {
                out.put(node, same);
            }
        });
        return out;
    }

    /** Names that two of them have name neither. */
    private static Map<String, Integer> byName(Asset asset, int[] joints) {
        Map<String, Integer> out = new LinkedHashMap<>();
        Set<String> twice = new HashSet<>();
        for (int joint : joints) {
            String name = asset.nodes().get(joint).name();
            String plain = plain(name.substring(name.lastIndexOf(':') + 1));
            if (plain.isEmpty() || out.putIfAbsent(plain, joint) != null) {
                twice.add(plain);
            }
        }
        out.keySet().removeAll(twice);
        return out;
    }

    /** {@code hips.001} and {@code hips} are one (common practice); {@code finger_1} stays, for its number may mean something. */
    private static String plain(String name) {
        return name.replaceAll("\\.\\d{3,}$", "");
    }
}
