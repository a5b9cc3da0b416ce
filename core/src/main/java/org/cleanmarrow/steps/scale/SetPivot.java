package org.cleanmarrow.steps.scale;

import java.util.ArrayList;
import java.util.List;
import java.util.function.DoubleFunction;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.edit.NodeEdits;
import org.cleanmarrow.edit.NodeMap;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.pose.Baker;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.NodeMotion;
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
import org.joml.Quaterniond;
import org.joml.Vector3d;

/**
 * Puts the point that a node turns about somewhere else. Its mesh, what hangs below it and what a joint moves stay where
 * they are, at rest and in every clip: where the node turns, its place is keyed so closely that everything goes the way it
 * went.
 */
@StepInfo(name = "set-pivot", says = "Puts the pivot of a part or joint somewhere else; nothing moves.")
public record SetPivot(
        @Parameter(says = "node of the part or joint") String part,

        @Parameter(says = "origin of the world, a place on the part's box, or a point")
        To to,

        @Parameter(
                says =
                        "sides of the box, as the asset faces: any of bottom top left right front back, such as bottom left",
                fallback = "\"bottom\"")
        String side,

        @Parameter(says = "x of the point, in the asset's unit", fallback = "0")
        double x,

        @Parameter(says = "y of the point", fallback = "0") double y,
        @Parameter(says = "z of the point", fallback = "0") double z)
        implements Step {
    /** How near straight lines keep to the way of the point, as a share of its distance. */
    private static final double STRAIGHT = 1e-5;

    /** Where the pivot goes. */
    public enum To {
        ORIGIN,
        BOX,
        POINT
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        int n = Names.node(asset, part);
        Node node = asset.nodes().get(n);
        if (node.skin() >= 0) {
            throw new Refused("part.skinned", asset.nodeRef(n));
        }
        if (node.camera() >= 0
                || !node.carried().extension("KHR_lights_punctual").isMissingNode()) {
            throw new Refused("part.camera", asset.nodeRef(n));
        }
        Matrix4d[] world = new Rig(asset).rest().world();
        Vector3d goal = goal(asset, n);
        Vector3d shift = world[n].invert(new Matrix4d()).transformPosition(goal, new Vector3d());
        if (!shift.isFinite()) {
            throw new Refused("freeze.flat", asset.nodeRef(n));
        }
        double moved = goal.distance(world[n].getTranslation(new Vector3d()))
                * asset.conventions().metresPerUnit();
        Change change = Change.of(moved(asset, n, shift)).count("pivots.set", 1);
        return change.note("pivot.moved", new Length(moved));
    }

    private Vector3d goal(Asset asset, int n) throws Refused {
        return switch (to) {
            case ORIGIN -> new Vector3d();
            case POINT -> {
                Vector3d point = new Vector3d(x, y, z);
                if (!point.isFinite()) {
                    throw new Refused("pivot.point");
                }
                yield point;
            }
            case BOX -> onBox(asset.conventions(), boxOf(asset, n));
        };
    }

    private Vector3d onBox(Conventions c, Box box) throws Refused {
        if (box.isEmpty()) {
            throw new Refused("pivot.no.box", part);
        }
        Vector3d out = box.centre();
        for (String word : side.strip().toLowerCase(java.util.Locale.ROOT).split("[\\s,]+")) {
            Vector3d towards = switch (word) {
                case "top" -> c.up().vector();
                case "bottom" -> c.up().vector().negate();
                case "front" -> c.forward().vector();
                case "back" -> c.forward().vector().negate();
                case "left" -> c.left();
                case "right" -> c.left().negate();
                case "", "middle" -> new Vector3d();
                default -> throw new Refused("pivot.side", word);
            };
            for (int i = 0; i < 3; i++) {
                if (towards.get(i) != 0) {
                    out.setComponent(
                            i, towards.get(i) > 0 ? box.max().get(i) : box.min().get(i));
                }
            }
        }
        return out;
    }

    /** Box at rest of what stands at a node and below it, or of what it moves where it is a joint. */
    static Box boxOf(Asset asset, int n) {
        Deformer deformer = new Deformer(asset);
        Pose rest = new Rig(asset).rest();
        int[] parents = asset.parents();
        Box box = Box.empty();
        for (MeshPlace place : deformer.places()) {
            int up = place.node();
            while (up >= 0 && up != n) {
                up = parents[up];
            }
            if (up == n && place.skin() < 0) {
                box.grow(deformer.positions(place, rest));
            }
        }
        return box;
    }

    private static Asset moved(Asset asset, int n, Vector3d shift) {
        Node node = asset.nodes().get(n);
        NodeEdits edits = new NodeEdits(asset);
        Matrix4d back = new Matrix4d().translation(new Vector3d(shift).negate());
        Vector3d less = new Vector3d(shift).negate();
        for (int child : node.children()) {
            edits.map(child, new NodeMap(new Matrix3d(), less, new Quaterniond(), new Quaterniond(), new Matrix3d()));
        }
        edits.shape(n, back);
        boolean turns = asset.clips().stream()
                .flatMap(c -> c.channels().stream())
                .anyMatch(c -> c.node() == n && (c.path() == Channel.Path.ROTATION || c.path() == Channel.Path.SCALE));
        Matrix4d local = node.local().toMatrix();
        Vector3d at = local.transformPosition(new Vector3d(shift));
        Vector3d by = new Vector3d(at).sub(node.local().translationVector());
        if (turns || node.local().matrix() != null) {
            edits.local(
                    n,
                    node.local().matrix() != null
                            ? Local.ofMatrix(local.setTranslation(at))
                            : Local.of(
                                    at,
                                    node.local().rotationQuaternion(),
                                    node.local().scaleVector()));
        } else {
            edits.map(n, new NodeMap(new Matrix3d(), by, new Quaterniond(), new Quaterniond(), new Matrix3d()));
        }
        Asset out = edits.done().withSkins(binds(asset, n, back));
        return turns ? out.withClips(keyed(asset, out.clips(), n, shift)) : out;
    }

    private static List<Skin> binds(Asset asset, int n, Matrix4d back) {
        List<Skin> skins = new ArrayList<>();
        for (Skin skin : asset.skins()) {
            int joint = skin.indexOfNode(n);
            if (joint < 0) {
                skins.add(skin);
                continue;
            }
            skins.add(skin.bound(j -> j == joint ? skin.inverseBind(j).mulLocal(back) : skin.inverseBind(j)));
        }
        return skins;
    }

    /** Clips in which the node's place makes up for its turning about another point. */
    private static List<Clip> keyed(Asset before, List<Clip> clips, int n, Vector3d shift) {
        List<Clip> out = new ArrayList<>();
        for (int c = 0; c < clips.size(); c++) {
            Clip was = before.clips().get(c);
            List<Channel> own = was.channels().stream()
                    .filter(x -> x.node() == n && x.path() != Channel.Path.WEIGHTS)
                    .toList();
            NodeMotion motion = new NodeMotion(before, was);
            if (own.isEmpty()) {
                out.add(clips.get(c));
                continue;
            }
            DoubleFunction<Vector3d> path = t -> motion.local(n, t).transformPosition(new Vector3d(shift));
            float[] times = Baker.times(
                    own,
                    t -> {
                        Vector3d at = path.apply(t);
                        return Local.at(at.x, at.y, at.z);
                    },
                    STRAIGHT * (shift.length() + 1e-9),
                    0);
            float[] values = new float[times.length * 3];
            for (int k = 0; k < times.length; k++) {
                Vector3d at = path.apply(times[k]);
                for (int i = 0; i < 3; i++) {
                    values[k * 3 + i] = (float) at.get(i);
                }
            }
            boolean steps = Baker.stepped(own);
            Sampler sampler = new Sampler(
                    steps ? Sampler.Interpolation.STEP : Sampler.Interpolation.LINEAR, times, values, 3, Storage.FLOAT);
            List<Channel> channels = new ArrayList<>(clips.get(c).channels());
            channels.removeIf(x -> x.node() == n && x.path() == Channel.Path.TRANSLATION);
            channels.add(new Channel(n, Channel.Path.TRANSLATION, sampler, "", Passthrough.NONE));
            out.add(clips.get(c).withChannels(channels));
        }
        return out;
    }
}
