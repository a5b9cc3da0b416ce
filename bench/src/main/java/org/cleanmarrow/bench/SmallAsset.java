package org.cleanmarrow.bench;

import java.util.List;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.MorphTarget;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.model.Storage;

/** The least asset that has one of everything: skin, morph target, material, colours, clip, normals. */
final class SmallAsset {
    private SmallAsset() {}

    static Asset make() {
        float[] p = {0, 0, 0, 1, 0, 0, 0, 1, 0, 1, 1, 0};
        float[] n = {0, 0, 1, 0, 0, 1, 0, 0, 1, 0, 0, 1};
        Influences.Builder rows = new Influences.Builder(4);
        for (int v = 0; v < 4; v++) {
            rows.add(0, v < 2 ? 0.75f : 0.25f);
            rows.add(1, v < 2 ? 0.25f : 0.75f);
            rows.endRow();
        }
        Primitive primitive = new Primitive(
                Primitive.Mode.TRIANGLES,
                new int[] {0, 1, 2, 2, 1, 3},
                p,
                n,
                null,
                List.of(
                        new Attribute("TEXCOORD_0", 2, new float[] {0, 0, 1, 0, 0, 1, 1, 1}, Storage.FLOAT),
                        new Attribute("COLOR_0", 3, new float[12], Storage.FLOAT)),
                rows.build(),
                List.of(new MorphTarget(new float[12], null, null, List.of())),
                0,
                Primitive.Layout.PLAIN,
                Passthrough.NONE);
        Mesh mesh = new Mesh("flag", List.of(primitive), new float[] {0.5f}, List.of("full"), Passthrough.NONE);
        Sampler turn = new Sampler(
                Sampler.Interpolation.LINEAR,
                new float[] {0, 0.5f},
                new float[] {0, 0, 0, 1, 0, 0, 0.6f, 0.8f},
                4,
                Storage.FLOAT);
        Clip clip = new Clip(
                "wave",
                List.of(new Channel(1, Channel.Path.ROTATION, turn, "", Passthrough.NONE)),
                30,
                false,
                true,
                Passthrough.NONE);
        return Asset.of(
                        "flag",
                        Conventions.GLTF,
                        List.of(
                                Node.group("pole", Local.IDENTITY, 1),
                                Node.group("tip", Local.at(0, 1, 0)),
                                Node.group("flag", Local.IDENTITY).withMesh(0, 0)),
                        List.of(mesh),
                        List.of(new Skin("flag", new int[] {0, 1}, null, 0, Passthrough.NONE)),
                        List.of(clip))
                .withMaterials(List.of(new Material("cloth", new float[] {1, 0, 0, 0.5f}, -1, true, Passthrough.NONE)));
    }
}
