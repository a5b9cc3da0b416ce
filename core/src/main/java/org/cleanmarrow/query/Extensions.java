package org.cleanmarrow.query;

import java.util.Set;
import java.util.TreeSet;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Texture;
import tools.jackson.databind.JsonNode;

/** The glTF extensions that an asset's contents are said with. */
public final class Extensions {
    private static final String KEY = "extensions";

    private final Set<String> used = new TreeSet<>();

    private Extensions() {}

    /** Names, in order of the alphabet. */
    public static Set<String> of(Asset asset) {
        Extensions all = new Extensions();
        all.add(asset.carried());
        asset.nodes().forEach(n -> all.add(n.carried()));
        asset.scenes().forEach(s -> all.add(s.carried()));
        asset.skins().forEach(s -> all.add(s.carried()));
        asset.cameras().forEach(all::add);
        asset.images().forEach(i -> all.add(i.carried()));
        for (Mesh mesh : asset.meshes()) {
            all.add(mesh.carried());
            mesh.primitives().forEach(p -> all.add(p.carried()));
        }
        for (Texture texture : asset.textures()) {
            all.add(texture.carried());
            all.add(texture.sampler());
            all.used.addAll(texture.others().keySet());
        }
        asset.materials().forEach(all::material);
        asset.clips().forEach(all::clip);
        return all.used;
    }

    private void material(Material material) {
        add(material.carried());
        material.textures().forEach(use -> {
            add(use.carried());
            if (use.slot().startsWith(KEY + "/")) {
                used.add(use.slot().substring(KEY.length() + 1, use.slot().lastIndexOf('/')));
            }
        });
    }

    private void clip(Clip clip) {
        add(clip.carried());
        for (Channel channel : clip.channels()) {
            add(channel.carried());
        }
    }

    /** All that a document names under {@code extensions}, anywhere but in extras; in order of the alphabet. */
    public static Set<String> in(JsonNode json) {
        Extensions all = new Extensions();
        all.add(json);
        return all.used;
    }

    private void add(Passthrough carried) {
        if (carried.json().contains(KEY)) {
            add(carried.read());
        }
    }

    private void add(JsonNode json) {
        json.properties().forEach(member -> {
            if (member.getKey().equals(KEY)) {
                used.addAll(member.getValue().propertyNames());
            }
            if (!member.getKey().equals("extras")) {
                add(member.getValue());
            }
        });
        if (json.isArray()) {
            json.forEach(this::add);
        }
    }
}
