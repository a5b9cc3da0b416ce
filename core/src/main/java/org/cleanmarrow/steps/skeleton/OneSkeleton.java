package org.cleanmarrow.steps.skeleton;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.query.TwinSkeletons;
import org.cleanmarrow.text.Length;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/**
 * Brings what hangs on a skeleton of its own onto the one that it is a copy of, joint by joint of the same name ({@link TwinSkeletons}).
 * At rest nothing moves; in clips all follows the one that stays. Joints that it has besides, such as those of coat tails, hang on the
 * joint that took the place of theirs, and keep their keys. Joints that bear nothing any more go, with their keys; those with a part or
 * a shape on them stay as they are. Cost: as the joints.
 */
@StepInfo(
        name = "one-skeleton",
        says = "Brings what hangs on a skeleton of its own, such as a garment, onto the skeleton that it is a copy of.")
public record OneSkeleton() implements Step {
    /** In the size of what it is measured in: joints that rest no farther apart lie on one place. */
    private static final double ONE_PLACE = 1e-6;

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        List<TwinSkeletons> twins = TwinSkeletons.of(asset);
        if (twins.isEmpty()) {
            throw new Refused("skeleton.one");
        }
        Asset out = asset;
        double apart = 0;
        int joints = 0;
        BitSet replaced = new BitSet();
        Matrix4d[] world = new Rig(asset).rest().world();
        for (TwinSkeletons twin : twins) {
            for (Map.Entry<Integer, Integer> pair : twin.joints().entrySet()) {
                apart = Math.max(apart, place(world, pair.getKey()).distance(place(world, pair.getValue())));
                replaced.set(pair.getKey());
            }
            joints += twin.joints().size();
            out = rehung(onto(out, twin, world), twin, world);
        }
        out = without(out, replaced);
        Change change = Change.of(out).count("skeletons.joined", twins.size()).count("joints.replaced", joints);
        double metres = apart * asset.conventions().metresPerUnit();
        return metres < 1e-4 ? change : change.note("skeleton.apart", new Length(metres));
    }

    private static Vector3d place(Matrix4d[] world, int node) {
        return world[node].getTranslation(new Vector3d());
    }

    /** The skins with the other joints, bound so that at rest all stands where it stood. */
    private static Asset onto(Asset asset, TwinSkeletons twin, Matrix4d[] world) {
        List<Skin> skins = new ArrayList<>(asset.skins());
        for (int s : twin.skins()) {
            Skin skin = skins.get(s);
            int[] joints = skin.joints().clone();
            Matrix4d[] binds = new Matrix4d[joints.length];
            for (int j = 0; j < joints.length; j++) {
                binds[j] = skin.inverseBind(j);
                int other = twin.joints().getOrDefault(joints[j], -1);
                if (other >= 0) {
                    if (!alike(world, joints[j], other)) {
                        binds[j] = world[other]
                                .invert(new Matrix4d())
                                .mul(world[joints[j]])
                                .mul(binds[j]);
                    }
                    joints[j] = other;
                }
            }
            int top = skin.skeleton() < 0 ? -1 : twin.joints().getOrDefault(skin.skeleton(), -1);
            skins.set(s, skin.with(joints, Skin.pack(binds), top));
        }
        return asset.withSkins(skins);
    }

    private static boolean alike(Matrix4d[] world, int a, int b) {
        return world[a].equals(world[b], ONE_PLACE * (1 + place(world, a).length()));
    }

    /** Children that were not replaced, hung below what took their parent's place, where they stand. */
    private static Asset rehung(Asset asset, TwinSkeletons twin, Matrix4d[] world) {
        List<Node> nodes = new ArrayList<>(asset.nodes());
        for (Map.Entry<Integer, Integer> pair : twin.joints().entrySet()) {
            int was = pair.getKey();
            int now = pair.getValue();
            int[] moving = Arrays.stream(nodes.get(was).children())
                    .filter(c -> !twin.joints().containsKey(c))
                    .toArray();
            for (int child : moving) {
                if (!alike(world, was, now)) {
                    Matrix4d local = world[now].invert(new Matrix4d()).mul(world[child]);
                    nodes.set(child, nodes.get(child).withLocal(Local.ofMatrix(local)));
                }
            }
            int[] left = Arrays.stream(nodes.get(was).children())
                    .filter(twin.joints()::containsKey)
                    .toArray();
            nodes.set(was, nodes.get(was).withChildren(left));
            int[] children = nodes.get(now).children();
            int[] more = Arrays.copyOf(children, children.length + moving.length);
            System.arraycopy(moving, 0, more, children.length, moving.length);
            nodes.set(now, nodes.get(now).withChildren(more));
        }
        return asset.withNodes(nodes);
    }

    /** Replaced joints that bear nothing go, from the ends of their branches upwards. */
    private static Asset without(Asset asset, BitSet replaced) {
        BitSet bears = new BitSet();
        asset.attached().forEach(a -> bears.set(a.node()));
        for (int n = 0; n < asset.nodes().size(); n++) {
            Node node = asset.nodes().get(n);
            if (node.mesh() >= 0 || node.camera() >= 0) {
                bears.set(n);
            }
        }
        BitSet gone = new BitSet();
        int[] order = asset.topDown();
        for (int i = order.length - 1; i >= 0; i--) {
            int n = order[i];
            boolean ends = Arrays.stream(asset.nodes().get(n).children()).allMatch(gone::get);
            gone.set(n, replaced.get(n) && ends && !bears.get(n));
        }
        return asset.without(gone);
    }
}
