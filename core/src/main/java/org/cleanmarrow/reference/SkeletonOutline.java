package org.cleanmarrow.reference;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Conversion;
import org.cleanmarrow.geometry.Turn;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.pose.Rig;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;

/**
 * What another skeleton has to be like to be the same: joints in their order, what each hangs on, and how it stands at
 * rest, in metres and axes as glTF 2.0 has them (section 3.4), whatever the file it came from said.
 */
public record SkeletonOutline(List<Joint> joints) {
    /**
     * One joint.
     *
     * @param parent name of the next joint above; empty for a top
     * @param place  in the world at rest, metres
     * @param axes   turn of the joint's own axes in the world at rest
     */
    public record Joint(String name, String parent, Vector3d place, Quaterniond axes) {}

    public SkeletonOutline {
        joints = List.copyOf(joints);
    }

    /** The joints of an asset, in the order of its skins. */
    public static SkeletonOutline of(Asset asset) {
        return new SkeletonOutline(List.copyOf(standing(asset).values()));
    }

    /** Every joint of an asset as it stands, by node, in the order of its skins. */
    static Map<Integer, Joint> standing(Asset asset) {
        Conversion view = Conversion.between(asset.conventions(), Conventions.GLTF);
        Matrix4d[] world = new Rig(asset).rest().world();
        boolean[] joint = asset.jointFlags();
        int[] parents = asset.parents();
        Set<Integer> order = new LinkedHashSet<>();
        for (Skin skin : asset.skins()) {
            for (int n : skin.joints()) {
                order.add(n);
            }
        }
        Map<Integer, Joint> out = new java.util.LinkedHashMap<>();
        for (int n : order) {
            int up = parents[n];
            while (up >= 0 && !joint[up]) {
                up = parents[up];
            }
            Matrix4d seen = view.apply(world[n]);
            String above = up < 0 ? "" : asset.nodeRef(up);
            out.put(n, new Joint(asset.nodeRef(n), above, seen.getTranslation(new Vector3d()), Turn.of(seen)));
        }
        return out;
    }

    /** Joints by name; the first of several of one name. */
    public Map<String, Joint> byName() {
        Map<String, Joint> out = new HashMap<>();
        joints.forEach(j -> out.putIfAbsent(j.name(), j));
        return out;
    }

    /** Names of the joints above one, the nearest first; ends where the outline runs in a circle. */
    public List<String> above(String name) {
        return above(byName(), name);
    }

    static List<String> above(Map<String, Joint> byName, String name) {
        List<String> out = new ArrayList<>();
        Joint at = byName.get(name);
        while (at != null && !at.parent().isEmpty() && out.size() <= byName.size()) {
            out.add(at.parent());
            at = byName.get(at.parent());
        }
        return out;
    }
}
