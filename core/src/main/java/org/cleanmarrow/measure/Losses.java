package org.cleanmarrow.measure;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Image;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Scene;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.model.Texture;
import org.cleanmarrow.model.TextureUse;
import org.cleanmarrow.text.Message;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * What one asset has that another made from it has not: found by listing all that either holds, so that nothing need be
 * known of the format in between. Where things stand and how they move is the probe's matter, not counted here.
 */
public final class Losses {
    private static final int NAMED = 4;
    /** Numbers that count places in lists, which a writer may renumber. */
    private static final Set<String> INDICES = Set.of("index", "texCoord", "light", "source", "sampler", "mappings");

    /** What the model holds itself, and what only says who wrote the file. */
    private static final Set<String> MODELLED =
            Set.of("name", "version", "minVersion", "generator", "cleanMarrow", "extensionsUsed", "extensionsRequired");

    /** A feature, its text or {@link Message}; empty: the thing as a whole. */
    private record Feature(String kind, Object what, String value) {}

    private final Map<Feature, Set<String>> owners = new LinkedHashMap<>();

    private Losses(Asset asset) {
        asset(asset);
        for (int n = 0; n < asset.nodes().size(); n++) {
            Node node = asset.nodes().get(n);
            String name = node.name();
            has("node", "", name);
            carried("node", node.carried(), name);
            if (node.camera() >= 0) {
                has("node", "camera", name);
            }
        }
        asset.meshes().forEach(this::mesh);
        for (Skin skin : asset.skins()) {
            carried("skin", skin.carried(), skin.name());
        }
        for (Material material : asset.materials()) {
            material(material);
        }
        for (Clip clip : asset.clips()) {
            clip(clip);
        }
        for (Image image : asset.images()) {
            has("image", "", image.name().replaceAll("(?i)\\.(png|jpe?g)$", ""));
        }
    }

    /** One message for each kind of thing that is in the first and not in the second; empty where all is there. */
    public static List<Message> between(Asset whole, Asset made) {
        Losses before = new Losses(whole);
        Losses after = new Losses(made);
        List<Message> out = new ArrayList<>();
        Map<String, Set<String>> gone = new HashMap<>();
        before.owners.forEach((feature, who) -> {
            Set<String> lost = new LinkedHashSet<>(who);
            lost.removeAll(after.owners.getOrDefault(feature, Set.of()));
            // What is lost whole is not said again for each of its parts.
            if (feature.what.equals("")) {
                gone.put(feature.kind, Set.copyOf(lost));
            } else {
                lost.removeAll(gone.getOrDefault(feature.kind, Set.of()));
            }
            if (!lost.isEmpty()) {
                out.add(sentence(feature, lost));
            }
        });
        return out.stream().distinct().toList();
    }

    private static Message sentence(Feature feature, Set<String> lost) {
        List<String> names = lost.stream().filter(n -> !n.isEmpty()).toList();
        String some = String.join(", ", names.subList(0, Math.min(NAMED, names.size())));
        String shown = names.size() > NAMED ? some + ", …" : some;
        Message kind = Message.of("loss.kind." + feature.kind, lost.size());
        return feature.what.equals("")
                ? Message.of("loss.thing", kind, shown.isEmpty() ? "–" : shown)
                : Message.of("loss.part", feature.what, kind, shown.isEmpty() ? "–" : shown);
    }

    private void has(String kind, Object what, String owner) {
        has(kind, what, "", owner);
    }

    private void has(String kind, Object what, String value, String owner) {
        owners.computeIfAbsent(new Feature(kind, what, value), k -> new LinkedHashSet<>())
                .add(owner);
    }

    private void asset(Asset asset) {
        carried("asset", asset.carried(), "");
        for (int s = 0; s < asset.scenes().size(); s++) {
            Scene scene = asset.scenes().get(s);
            // Every format has one scene; what is called otherwise, or is one more, can be lost.
            if (s > 0 || !scene.carried().isEmpty()) {
                has("scene", "", scene.name().isEmpty() ? "#" + s : scene.name());
                carried("scene", scene.carried(), scene.name());
            }
        }
        for (int c = 0; c < asset.cameras().size(); c++) {
            has("camera", "", "#" + c);
        }
        for (Texture texture : asset.textures()) {
            texture.others().keySet().forEach(o -> has("texture", o, texture.name()));
            carried("texture", "sampler", texture.sampler(), texture.name());
            carried("texture", texture.carried(), texture.name());
        }
    }

    private void mesh(Mesh mesh) {
        String name = mesh.name();
        has("mesh", "", name);
        carried("mesh", mesh.carried(), name);
        for (String target : mesh.targetNames()) {
            has("mesh", Message.of("loss.target", target), name);
        }
        if (mesh.targetNames().isEmpty() && mesh.targetCount() > 0) {
            has("mesh", Message.of("loss.targets", mesh.targetCount()), name);
        }
        for (Primitive p : mesh.primitives()) {
            carried("mesh", p.carried(), name);
            for (Attribute attribute : p.attributes()) {
                has("mesh", attribute.name(), name);
                if (attribute.name().startsWith("COLOR_") && attribute.width() == 4) {
                    has("mesh", Message.of("loss.alpha", attribute.name()), name);
                }
            }
            if (p.normals() != null) {
                has("mesh", "NORMAL", name);
            }
            if (p.tangents() != null) {
                has("mesh", "TANGENT", name);
            }
            if (p.influences() != null) {
                has("mesh", Message.of("loss.weights"), name);
            }
            if (p.triangleCorners().length == 0 && p.vertexCount() > 0) {
                has("mesh", p.mode().name().toLowerCase(Locale.ROOT).replace('_', ' '), name);
            }
        }
    }

    private void material(Material material) {
        String name = material.name();
        has("material", "", name);
        StringBuilder colour = new StringBuilder();
        for (float c : material.baseColour()) {
            colour.append(String.format(Locale.ROOT, "%.4f ", c));
        }
        has("material", "baseColorFactor", colour.toString(), name);
        for (TextureUse use : material.textures()) {
            String slot = use.slot().equals(TextureUse.BASE_COLOUR)
                    ? "baseColorTexture"
                    : use.slot().replace('/', '.');
            has("material", slot, name);
            carried("material", slot, use.carried(), name);
        }
        if (material.doubleSided()) {
            has("material", "doubleSided", name);
        }
        carried("material", material.carried(), name);
    }

    private void clip(Clip clip) {
        has("clip", "", clip.name());
        if (clip.firstFrame() != 0) {
            has("clip", Message.of("loss.start", clip.firstFrame()), clip.name());
        }
        carried("clip", clip.carried(), clip.name());
        for (Channel channel : clip.channels()) {
            if (channel.path() == Channel.Path.POINTER) {
                has("clip", "pointer", clip.name());
            }
            if (channel.movesVertices()) {
                has("clip", Message.of("loss.cache"), clip.name());
            } else if (channel.sampler().interpolation() == Sampler.Interpolation.CUBICSPLINE) {
                has("clip", "CUBICSPLINE", clip.name());
            }
        }
    }

    private void carried(String kind, Passthrough carried, String owner) {
        carried(kind, "", carried, owner);
    }

    private void carried(String kind, String path, Passthrough carried, String owner) {
        if (carried.isEmpty()) {
            return;
        }
        try {
            json(kind, path, JsonMapper.shared().readTree(carried.json()), owner);
        } catch (JacksonException e) {
            has(kind, Message.of("loss.words"), owner);
        }
    }

    /** Everything a document says, by its path; extras and other vendors' extensions by name alone. */
    private void json(String kind, String path, JsonNode json, String owner) {
        for (var entry : json.properties()) {
            String key = entry.getKey();
            String here = path.isEmpty() ? key : path + "." + key;
            JsonNode value = entry.getValue();
            if (INDICES.contains(key)
                    || MODELLED.contains(key)
                    || value.isObject()
                            && value.isEmpty()
                            && !path.endsWith("extensions")
                            && !path.endsWith("extras")) {
                continue;
            }
            if (path.endsWith("extras") || path.endsWith("extensions") || key.equals("extras") && !value.isObject()) {
                has(kind, here, owner);
            } else if (value.isObject()) {
                json(kind, here, value, owner);
            } else if (value.isNumber()) {
                has(kind, here, String.format(Locale.ROOT, "%.5g", value.asDouble()), owner);
            } else {
                has(kind, here, value.isArray() ? "" : value.toString(), owner);
            }
        }
    }
}
