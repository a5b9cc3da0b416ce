package org.cleanmarrow.steps.intake;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/** Gives one node, mesh, clip or material another name. Names of a kind stay unique. */
@StepInfo(name = "rename", says = "Renames one node, mesh, clip or material.")
public record Rename(
        @Parameter(says = "node, mesh, clip or material") Kind kind,

        @Parameter(says = "name now, or #number where it has none of its own")
        String from,

        @Parameter(says = "new name, not taken by another of the kind")
        String to)
        implements Step {

    /** What is renamed. */
    public enum Kind {
        NODE,
        MESH,
        CLIP,
        MATERIAL
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (to.isBlank() || AllNames.of(asset, kind).contains(to)) {
            throw new Refused("name.taken", to);
        }
        Asset out = switch (kind) {
            case NODE -> {
                List<Node> nodes = new ArrayList<>(asset.nodes());
                nodes.set(
                        Names.node(asset, from),
                        nodes.get(Names.node(asset, from)).withName(to));
                yield asset.withNodes(nodes);
            }
            case MESH -> {
                int mesh = Names.mesh(asset, from);
                yield asset.withMesh(mesh, asset.meshes().get(mesh).withName(to));
            }
            case CLIP -> {
                int clip = asset.findClip(from);
                if (clip < 0) {
                    throw new Refused("no.clip", from);
                }
                List<Clip> clips = new ArrayList<>(asset.clips());
                clips.set(clip, clips.get(clip).withName(to));
                yield asset.withClips(clips);
            }
            case MATERIAL -> {
                int material = Names.material(asset, from);
                List<Material> materials = new ArrayList<>(asset.materials());
                materials.set(material, materials.get(material).withName(to));
                yield asset.withMaterials(materials);
            }
        };
        return Change.of(out).count("renamed", 1);
    }
}
