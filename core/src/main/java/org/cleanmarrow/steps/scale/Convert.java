package org.cleanmarrow.steps.scale;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Conversion;
import org.cleanmarrow.edit.Channels;
import org.cleanmarrow.edit.NodeMap;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.query.PassthroughTransforms;
import org.cleanmarrow.surface.ShapeMap;
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
 * Writes the whole asset in another unit and other axes: vertices, normals, tangents, morph targets, rest
 * transforms, inverse binds and every key. Winding turns round where handedness differs. With S the change of
 * numbers every transform M becomes S M S^-1, so no node is left holding a turn or scale that makes up for it.
 */
@StepInfo(name = "convert", says = "Turns and scales all data to another unit, up axis, forward axis and handedness.")
public record Convert(
        @Parameter(
                says =
                        "conventions to convert to, such as z-up-cm-lh, or an object with metresPerUnit, up, forward, handedness")
        Conventions to,

        @Parameter(says = "first freeze node rotation and scale", fallback = "true")
        boolean freeze)
        implements Step {

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        Change frozen = freeze ? new FreezeNodes().apply(asset, work) : Change.of(asset);
        Asset from = frozen.asset();
        Conversion conversion = Conversion.between(from.conventions(), to);
        Change change;
        if (conversion.isIdentity()) {
            change = Change.of(from.withConventions(to));
        } else {
            Asset converted = converted(from, conversion, to);
            change = Change.of(converted)
                    .count("meshes.converted", from.meshes().size())
                    .count("nodes.converted", from.nodes().size())
                    .count("clips.converted", from.clips().size());
            long lenses = from.nodes().stream().filter(n -> n.camera() >= 0).count();
            if (lenses > 0) {
                change = change.note("convert.cameras", lenses);
            }
            List<String> unread = PassthroughTransforms.in(from);
            if (!unread.isEmpty()) {
                change = change.note(
                        "convert.unread",
                        unread.size(),
                        String.join(", ", unread.subList(0, Math.min(6, unread.size()))));
            }
        }
        return change.after(frozen);
    }

    private static Asset converted(Asset from, Conversion conversion, Conventions to) {
        Matrix4d s = conversion.matrix();
        ShapeMap shapes = new ShapeMap(s);
        List<Mesh> meshes = from.meshes().stream().map(shapes::apply).toList();
        NodeMap map = nodeMap(conversion);
        NodeMap[] maps = new NodeMap[from.nodes().size()];
        List<Node> nodes = new ArrayList<>();
        for (int n = 0; n < maps.length; n++) {
            maps[n] = map;
            Node node = from.nodes().get(n);
            Local local = node.local().matrix() == null
                    ? map.apply(node.local())
                    : Local.ofMatrix(conversion.apply(node.local().toMatrix()));
            nodes.add(node.withLocal(local));
        }
        List<Skin> skins = from.skins().stream()
                .map(skin ->
                        skin.inverseBinds() == null ? skin : skin.bound(j -> conversion.apply(skin.inverseBind(j))))
                .toList();
        return from.withConventions(to)
                .withNodes(nodes)
                .withMeshes(meshes)
                .withSkins(skins)
                .mapAttached(a -> a.moved(s))
                .withClips(Channels.rewritten(from, maps))
                .mapCaches((node, track) -> track.moved(s));
    }

    private static NodeMap nodeMap(Conversion conversion) {
        Matrix3d turn = conversion.turn();
        Quaterniond left = NodeMap.properPart(turn);
        Matrix3d sizes = new Matrix3d();
        for (int c = 0; c < 3; c++) {
            for (int r = 0; r < 3; r++) {
                sizes.set(c, r, Math.abs(turn.get(c, r)));
            }
        }
        return new NodeMap(
                new Matrix3d(turn).scale(conversion.scale()),
                new Vector3d(),
                left,
                left.conjugate(new Quaterniond()),
                sizes);
    }
}
