package org.cleanmarrow.steps.skeleton;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.MorphTarget;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.surface.ShapeMap;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;

/**
 * Binds every skinned mesh anew where the rest pose has it: vertices go where they are at rest, inverse binds become those
 * of the joints at rest. At rest nothing moves; in clips vertices that several joints share move a little otherwise,
 * because a mean of turns is no turn. Binds that cannot be inverted or that skins disagree about are mended by it.
 */
@StepInfo(name = "rebind", says = "Binds skinned meshes where the rest pose has them, with new inverse bind matrices.")
public record Rebind() implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        Matrix4d[] world = new Rig(asset).rest().world();
        List<Skin> skins = new ArrayList<>();
        for (Skin skin : asset.skins()) {
            for (int joint : skin.joints()) {
                if (!world[joint].invert(new Matrix4d()).isFinite()) {
                    throw new Refused("freeze.flat", asset.nodeRef(joint));
                }
            }
            skins.add(skin.bound(j -> world[skin.joints()[j]].invert(new Matrix4d())));
        }
        List<Mesh> meshes = new ArrayList<>(asset.meshes());
        List<Node> nodes = new ArrayList<>(asset.nodes());
        boolean[] taken = new boolean[meshes.size()];
        long bound = 0;
        for (MeshPlace place : new Deformer(asset).places()) {
            if (place.skin() < 0) {
                continue;
            }
            work.stopIfCancelled();
            Mesh made = moved(asset, place, world);
            bound++;
            if (taken[place.mesh()]) {
                nodes.set(place.node(), nodes.get(place.node()).withMesh(meshes.size(), place.skin()));
                meshes.add(made.withName(made.name() + "_" + meshes.size()));
            } else {
                taken[place.mesh()] = true;
                meshes.set(place.mesh(), made);
            }
        }
        return Change.of(asset.withSkins(skins).withMeshes(meshes).withNodes(nodes))
                .count("meshes.bound.anew", bound);
    }

    /** A mesh where its joints have it, its morph targets as differences there. */
    private static Mesh moved(Asset asset, MeshPlace place, Matrix4d[] world) {
        Mesh mesh = asset.meshes().get(place.mesh());
        float[] normals = new float[mesh.vertexCount() * 3];
        float[] base = deformed(asset, place, world, mesh, -1, normals);
        List<float[]> shapes = new ArrayList<>();
        for (int t = 0; t < mesh.targetCount(); t++) {
            float[] shape = deformed(asset, place, world, mesh, t, new float[normals.length]);
            for (int i = 0; i < shape.length; i++) {
                shape[i] -= base[i];
            }
            shapes.add(shape);
        }
        List<Primitive> out = new ArrayList<>();
        int first = 0;
        for (Primitive p : mesh.primitives()) {
            int end = first + p.vertexCount() * 3;
            List<MorphTarget> targets = new ArrayList<>();
            for (int t = 0; t < p.targets().size(); t++) {
                MorphTarget was = p.targets().get(t);
                float[] moved = was.positions() == null ? null : Arrays.copyOfRange(shapes.get(t), first, end);
                targets.add(new MorphTarget(moved, null, null, was.attributes()));
            }
            float[] up = p.normals() == null ? null : ShapeMap.unitNormals(Arrays.copyOfRange(normals, first, end));
            out.add(p.withShape(Arrays.copyOfRange(base, first, end), up, null, targets));
            first = end;
        }
        return mesh.withPrimitives(out);
    }

    /** Positions at rest of the bare mesh, or of one of its targets wholly. */
    private static float[] deformed(
            Asset asset, MeshPlace place, Matrix4d[] world, Mesh mesh, int target, float[] normals) {
        List<Primitive> bare = mesh.primitives().stream()
                .map(p -> {
                    float[] delta = target < 0 || target >= p.targets().size()
                            ? null
                            : p.targets().get(target).positions();
                    float[] at = p.positions();
                    if (delta != null) {
                        at = at.clone();
                        for (int i = 0; i < at.length; i++) {
                            at[i] += delta[i];
                        }
                    }
                    return p.withShape(at, p.normals(), null, List.of());
                })
                .toList();
        Asset plain = asset.withMesh(place.mesh(), mesh.withPrimitives(bare));
        float[] out = new float[mesh.vertexCount() * 3];
        new Deformer(plain).deform(place, new Rig(plain).rest(), world, new Matrix4d(), out, normals, true);
        return out;
    }
}
