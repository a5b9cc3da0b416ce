package org.cleanmarrow.steps.scale;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.cleanmarrow.edit.Channels;
import org.cleanmarrow.edit.NodeMap;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.pose.Keys;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.surface.Reframed;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.joml.Matrix3d;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;

/**
 * Folds the rotation and scale of nodes into vertices, binds and keys.
 *
 * <p>Each node n gets a fold F with W(n) = W'(n) F at every moment, W the old and W' the new world transform.
 * With parent fold P the new local transform is P L F^-1. Joints keep their rotation, so their fold is a plain
 * scale along their axes; other nodes lose it. Above a joint or an animated node P must be a similarity: otherwise the
 * result would hold shear, which no node can, and the step refuses. The node's own scale may be uneven. Keys of scale that
 * never leave the rest scale count as none, and even ones are folded like any other; a node whose keys scale it unevenly
 * keeps its turn, because its axes cannot be seen in turned ones.
 */
@StepInfo(
        name = "freeze-nodes",
        says = "Folds node rotation and scale into vertices, joints, binds and keys, so that nodes read zero and one.")
public record FreezeNodes() implements Step {
    private static final double EVEN = 1e-5;
    /** How near keys must keep to a value to be it. */
    private static final double SAME = 1e-6;

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        return new Freezing(asset).run();
    }

    /**
     * The nodes as freezing would leave them, without the work on vertices.
     *
     * @throws Refused where it would be refused
     */
    public static List<Node> preview(Asset asset) throws Refused {
        Freezing freezing = new Freezing(asset);
        freezing.fold();
        return List.of(freezing.nodes);
    }

    private static final class Freezing {
        private final Asset asset;
        private final int[] parents;
        private final boolean[] joint;
        private final boolean[] turned;
        /** Whether keys scale the node otherwise than evenly. */
        private final boolean[] scaled;
        /** Whether keys scale it at all. */
        private final boolean[] sized;

        private final boolean[] movingBelow;
        private final Matrix3d[] fold;
        private final Node[] nodes;
        private final NodeMap[] maps;
        private long changedNodes;

        Freezing(Asset asset) {
            this.asset = asset;
            int count = asset.nodes().size();
            parents = asset.parents();
            joint = asset.jointFlags();
            turned = new boolean[count];
            scaled = new boolean[count];
            sized = new boolean[count];
            movingBelow = new boolean[count];
            fold = new Matrix3d[count];
            nodes = asset.nodes().toArray(Node[]::new);
            maps = new NodeMap[count];
        }

        void fold() throws Refused {
            findMoving();
            for (int n : asset.topDown()) {
                freeze(n);
            }
        }

        Change run() throws Refused {
            fold();
            Matrix4d[] data = new Matrix4d[nodes.length];
            List<Skin> skins = skins(data);
            Matrix4d[] folds = new Matrix4d[nodes.length];
            for (int n = 0; n < nodes.length; n++) {
                folds[n] = new Matrix4d().set3x3(fold[n]);
                data[n] = nodes[n].skin() < 0 ? folds[n] : data[n];
            }
            Asset keyed = asset.withNodes(Arrays.asList(nodes)).withClips(Channels.rewritten(asset, maps));
            Asset out = Reframed.of(keyed, data, folds).withSkins(skins);
            int copies = out.meshes().size() - asset.meshes().size();
            Change change = Change.of(out).count("nodes.frozen", changedNodes);
            return copies == 0 ? change : change.count("meshes.copied.for.their.own.fold", copies);
        }

        private void findMoving() {
            for (Clip clip : asset.clips()) {
                for (Channel channel : clip.channels()) {
                    int n = channel.node();
                    if (n >= 0 && channel.path() == Channel.Path.ROTATION) {
                        turned[n] |= !Keys.holds(
                                channel.sampler(), asset.nodes().get(n).local().rotation());
                    } else if (n >= 0 && channel.path() == Channel.Path.SCALE) {
                        float[] rest = asset.nodes().get(n).local().scale();
                        sized[n] |= !Keys.holds(channel.sampler(), rest);
                        scaled[n] |=
                                !Keys.holds(channel.sampler(), rest) && !(isEven(channel.sampler()) && isEven(rest, 0));
                    }
                }
            }
            int[] order = asset.topDown();
            for (int i = order.length - 1; i >= 0; i--) {
                int n = order[i];
                movingBelow[n] |= keepsTurn(n) || turned[n] || sized[n];
                if (parents[n] >= 0) {
                    movingBelow[parents[n]] |= movingBelow[n];
                }
            }
        }

        private static boolean isEven(Sampler keys) {
            for (int at = 0; at + 3 <= keys.values().length; at += 3) {
                if (!isEven(keys.values(), at)) {
                    return false;
                }
            }
            return true;
        }

        private static boolean isEven(float[] size, int at) {
            double near = SAME * Math.abs(size[at]);
            return Math.abs(size[at] - size[at + 1]) <= near && Math.abs(size[at] - size[at + 2]) <= near;
        }

        /** Joints, and nodes whose own axes mean something: cameras, and what an extension put there. */
        private boolean keepsTurn(int n) {
            Node node = asset.nodes().get(n);
            return joint[n] || node.camera() >= 0 || node.carried().hasExtensions();
        }

        private void freeze(int n) throws Refused {
            Local local = asset.nodes().get(n).local();
            Matrix3d above = parents[n] < 0 ? new Matrix3d() : fold[parents[n]];
            Matrix3d turn = local.matrix() == null
                    ? new Matrix3d().set(local.rotationQuaternion())
                    : new Matrix3d(new Matrix4d().set(local.matrix()));
            Matrix3d size = local.matrix() == null ? new Matrix3d().scale(local.scaleVector()) : new Matrix3d();
            Matrix3d whole = new Matrix3d(above).mul(turn).mul(size);
            if (!movingBelow[n]) {
                fold[n] = whole;
                Vector3d at = above.transform(local.translationVector());
                replace(n, Local.at(at.x, at.y, at.z));
                // Keys that hold the rest turn and scale hold none afterwards.
                maps[n] = new NodeMap(
                        above,
                        new Vector3d(),
                        local.matrix() == null ? undone(local.rotationQuaternion()) : new Quaterniond(),
                        new Quaterniond(),
                        local.matrix() == null ? inverseOf(local.scaleVector()) : new Matrix3d());
                return;
            }
            // What is above must turn without shearing; a scale of its own a node may have as uneven as it likes.
            Matrix3d upright = local.matrix() == null ? above : whole;
            requireEven(n, upright);
            Vector3d rests = local.scaleVector();
            boolean vanishes = sized[n] && rests.x * rests.y * rests.z == 0;
            // Keys that scale evenly are counted in the rest scale once that is folded; others stay as they are.
            boolean keepsSize = vanishes || scaled[n] && !(rests.x == rests.y && rests.x == rests.z && rests.x > 0);
            Matrix3d own = keepsSize ? new Matrix3d() : size;
            Matrix3d folded = new Matrix3d(above).mul(turn).mul(own);
            requireSize(n, folded);
            boolean mirrored = folded.determinant() < 0;
            Matrix3d mirror = new Matrix3d().scaling(mirrored ? -1 : 1, 1, 1);
            double aboveFactor = Math.cbrt(Math.abs(upright.determinant()));
            Matrix3d right;
            // Animated scale along its own axes cannot be seen in turned ones, so such a node keeps its turn.
            if (keepsTurn(n) || scaled[n]) {
                fold[n] = new Matrix3d()
                        .scaling(
                                aboveFactor * Math.abs(own.m00),
                                aboveFactor * Math.abs(own.m11),
                                aboveFactor * Math.abs(own.m22))
                        .mul(mirror);
                right = signs(own).mul(mirror);
            } else {
                fold[n] = folded;
                right = new Matrix3d(above).mul(turn).invert();
            }
            if (isUnit(above) && isUnit(fold[n]) && local.matrix() == null) {
                // Nothing to fold: the node keeps its numbers to the last bit.
                fold[n] = new Matrix3d();
                return;
            }
            Matrix3d scale = keepsSize || local.matrix() != null ? new Matrix3d() : inverseOf(rests);
            NodeMap map =
                    new NodeMap(above, new Vector3d(), NodeMap.properPart(above), NodeMap.properPart(right), scale);
            maps[n] = map;
            Local mapped = local.matrix() == null
                    ? map.apply(local)
                    : Local.of(
                            above.transform(local.translationVector()),
                            NodeMap.properPart(new Matrix3d(whole).mul(fold[n].invert(new Matrix3d()))),
                            new Vector3d(1));
            replace(n, keepsSize ? mapped : new Local(mapped.translation(), clean(mapped.rotation()), ones(), null));
        }

        private static Matrix3d inverseOf(Vector3d size) {
            return new Matrix3d().scaling(inverseOf(size.x), inverseOf(size.y), inverseOf(size.z));
        }

        private static double inverseOf(double size) {
            return size == 0 ? 1 : 1 / size;
        }

        private static Quaterniond undone(Quaterniond turn) {
            return turn.equals(new Quaterniond()) ? turn : turn.conjugate();
        }

        private static float[] ones() {
            return new float[] {1, 1, 1};
        }

        private static float[] clean(float[] q) {
            boolean none = Math.abs(q[0]) < 1e-7 && Math.abs(q[1]) < 1e-7 && Math.abs(q[2]) < 1e-7;
            return none ? new float[] {0, 0, 0, 1} : q;
        }

        private static Matrix3d signs(Matrix3d diagonal) {
            return new Matrix3d()
                    .scaling(Math.signum(diagonal.m00), Math.signum(diagonal.m11), Math.signum(diagonal.m22));
        }

        private static boolean isUnit(Matrix3d m) {
            return m.equals(new Matrix3d(), 1e-7);
        }

        private void replace(int n, Local local) {
            if (!local.equals(asset.nodes().get(n).local())) {
                changedNodes++;
                nodes[n] = nodes[n].withLocal(local);
            }
        }

        /** The nearest node from here up whose own scale is uneven. */
        private int unevenAbove(int n) {
            for (int up = n; up >= 0; up = parents[up]) {
                Vector3d size = asset.nodes().get(up).local().scaleVector();
                boolean even = Math.abs(Math.abs(size.x) - Math.abs(size.y)) <= EVEN * Math.abs(size.x)
                        && Math.abs(Math.abs(size.x) - Math.abs(size.z)) <= EVEN * Math.abs(size.x);
                if (!even && up != n || asset.nodes().get(up).local().matrix() != null) {
                    return up;
                }
            }
            return n;
        }

        /** A node without size would leave a transform that nothing can undo. */
        private void requireSize(int n, Matrix3d m) throws Refused {
            if (!(Math.abs(m.determinant()) > 0)) {
                throw new Refused("freeze.flat", asset.nodeRef(n));
            }
        }

        private void requireEven(int n, Matrix3d m) throws Refused {
            Vector3d x = m.getColumn(0, new Vector3d());
            Vector3d y = m.getColumn(1, new Vector3d());
            Vector3d z = m.getColumn(2, new Vector3d());
            double least = Math.min(x.length(), Math.min(y.length(), z.length()));
            double most = Math.max(x.length(), Math.max(y.length(), z.length()));
            double skew = Math.max(Math.abs(x.dot(y)), Math.max(Math.abs(y.dot(z)), Math.abs(x.dot(z))));
            if (!(least > 0)) {
                throw new Refused("freeze.flat", asset.nodeRef(n));
            }
            if (most - least > EVEN * most || skew > EVEN * most * most) {
                throw new Refused(
                        "freeze.uneven",
                        asset.nodeRef(unevenAbove(n)),
                        String.format(java.util.Locale.ROOT, "%.4g", Math.max(most / least - 1, skew / (most * most))));
            }
        }

        /** @param data by what the vertices of each skinned node are moved; filled in */
        private List<Skin> skins(Matrix4d[] data) {
            Matrix4d[] world = new Rig(asset).rest().world();
            List<Skin> out = new ArrayList<>();
            for (int s = 0; s < asset.skins().size(); s++) {
                Skin skin = asset.skins().get(s);
                Matrix4d placed = dataTransform(skin, world);
                boolean anyFold = Arrays.stream(skin.joints()).anyMatch(j -> !isUnit(fold[j]));
                if (!anyFold && placed.equals(new Matrix4d(), 1e-6)) {
                    out.add(skin);
                    continue;
                }
                Matrix4d back = placed.invert(new Matrix4d());
                out.add(skin.bound(j -> new Matrix4d()
                        .set3x3(fold[skin.joints()[j]])
                        .mul(skin.inverseBind(j))
                        .mul(back)));
                for (int n = 0; n < nodes.length; n++) {
                    if (nodes[n].skin() == s && nodes[n].mesh() >= 0) {
                        data[n] = placed;
                    }
                }
            }
            return out;
        }

        /**
         * What is done to the vertices of a skin. Where all joints agree on where the mesh stands at rest, it is
         * put there, and its binds become free of scale; otherwise the first joint's group is folded in.
         */
        private Matrix4d dataTransform(Skin skin, Matrix4d[] world) {
            if (skin.joints().length == 0) {
                return new Matrix4d();
            }
            Matrix4d bound = new Matrix4d(world[skin.joints()[0]]).mul(skin.inverseBind(0));
            double size = Math.cbrt(Math.abs(bound.determinant3x3()));
            if (!(size > 1e-12)) {
                return new Matrix4d();
            }
            for (int j = 1; j < skin.joints().length; j++) {
                Matrix4d other = new Matrix4d(world[skin.joints()[j]]).mul(skin.inverseBind(j));
                if (!near(bound, other, size)) {
                    int above = skin.joints()[0];
                    while (above >= 0 && joint[above]) {
                        above = parents[above];
                    }
                    return above < 0 ? new Matrix4d() : new Matrix4d(world[above]);
                }
            }
            return bound.equals(new Matrix4d(), 1e-6) ? new Matrix4d() : bound;
        }

        private static boolean near(Matrix4d a, Matrix4d b, double size) {
            double reach = Math.max(size, a.getTranslation(new Vector3d()).length());
            return a.equals(b, 1e-4 * reach);
        }
    }
}
