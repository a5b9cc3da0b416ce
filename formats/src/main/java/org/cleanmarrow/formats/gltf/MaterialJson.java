package org.cleanmarrow.formats.gltf;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.SortedMap;
import java.util.TreeMap;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Texture;
import org.cleanmarrow.model.TextureUse;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

/**
 * Materials and textures of a glTF document (2.0, 5.19 and 5.29). Whatever numbers a texture or a picture is taken out of what
 * is carried, also from extensions: there an object whose name ends in {@code Texture} is a texture info, as in all that
 * Khronos has published, and {@code source} of a texture is a picture.
 */
final class MaterialJson {
    private static final String PBR = "pbrMetallicRoughness";
    private static final String EXTENSIONS = "extensions";
    private static final float[] WHITE = {1, 1, 1, 1};

    private MaterialJson() {}

    /** @param kept what of the material is carried, before anything modelled is taken out of it */
    static Material read(JsonCursor at, Passthrough kept, int textures) throws ReadFailed {
        JsonCursor pbr = at.at(PBR);
        check(at, pbr);
        ObjectNode rest = GltfWriter.carried(kept);
        List<TextureUse> uses = new ArrayList<>();
        take(at, "", rest, textures, uses);
        // A material that says nothing here is a metal (5.22.4, 5.22.5); one of a format without metals is not.
        ObjectNode restOfPbr = child(rest, PBR);
        take(pbr, PBR + "/", restOfPbr, textures, uses);
        takeCover(at.at("extras"), rest, textures, uses);
        restOfPbr.remove("baseColorFactor");
        rest.remove("doubleSided");
        if (rest.get(EXTENSIONS) instanceof ObjectNode extensions) {
            for (String name : List.copyOf(extensions.propertyNames())) {
                if (extensions.get(name) instanceof ObjectNode extension) {
                    take(at.at(EXTENSIONS).at(name), EXTENSIONS + "/" + name + "/", extension, textures, uses);
                }
            }
        }
        return new Material(
                at.text("name", ""),
                pbr.floats("baseColorFactor", 4, WHITE),
                uses,
                at.flag("doubleSided"),
                new Passthrough(rest.toString()));
    }

    /** Takes texture infos out of an object. */
    private static void take(JsonCursor at, String path, ObjectNode rest, int textures, List<TextureUse> uses)
            throws ReadFailed {
        for (String key : List.copyOf(rest.propertyNames())) {
            if (key.endsWith("Texture") && rest.get(key) instanceof ObjectNode info && info.has("index")) {
                int texture = at.at(key).index("index", textures, "textures");
                rest.remove(key);
                info.remove("index");
                uses.add(new TextureUse(
                        path + key, texture, info.isEmpty() ? Passthrough.NONE : new Passthrough(info.toString())));
            }
        }
    }

    /** What others say in extras is theirs, and may be anything: only a mask that is one is taken. */
    private static void takeCover(JsonCursor extras, ObjectNode rest, int textures, List<TextureUse> uses)
            throws ReadFailed {
        String key = TextureUse.COVER.substring(TextureUse.COVER.indexOf('/') + 1);
        JsonNode index = extras.json().path(key).path("index");
        boolean known = index.isInt() && index.intValue() >= 0 && index.intValue() < textures;
        if (known && rest.get("extras") instanceof ObjectNode own) {
            ObjectNode cover = JsonNodeFactory.instance.objectNode();
            cover.set(key, own.remove(key));
            take(extras, "extras/", cover, textures, uses);
            if (own.isEmpty()) {
                rest.remove("extras");
            }
        }
    }

    /** What is carried word for word must still be of the types that glTF 2.0, 5.19 gives it. */
    private static void check(JsonCursor at, JsonCursor pbr) throws ReadFailed {
        at.text("alphaMode", "OPAQUE");
        at.floats("emissiveFactor", 3, new float[3]);
        number(at, "alphaCutoff");
        number(pbr, "metallicFactor");
        number(pbr, "roughnessFactor");
        number(at.at("normalTexture"), "scale");
        number(at.at("occlusionTexture"), "strength");
    }

    private static void number(JsonCursor at, String key) throws ReadFailed {
        JsonNode value = at.json().path(key);
        if (!value.isMissingNode() && !(value.isNumber() && Double.isFinite(value.doubleValue()))) {
            throw at.wrong(key, "expected a number, found " + value);
        }
    }

    private static ObjectNode child(ObjectNode of, String name) {
        return of.get(name) instanceof ObjectNode there ? there : of.putObject(name);
    }

    /** The object that a slot's last member stands in; an extension may be called anything. */
    private static ObjectNode owner(ObjectNode material, String path) {
        if (path.startsWith(EXTENSIONS + "/")) {
            return child(child(material, EXTENSIONS), path.substring(EXTENSIONS.length() + 1));
        }
        return path.isEmpty() ? material : child(material, path);
    }

    static ObjectNode write(Material material) {
        ObjectNode out = JsonNodeFactory.instance.objectNode();
        GltfWriter.name(out, material.name());
        ObjectNode carried = GltfWriter.carried(material.carried());
        boolean ofOurs = !carried.has(PBR);
        out.setAll(carried);
        ObjectNode pbr = child(out, PBR);
        GltfWriter.unlessDefault(pbr, "baseColorFactor", material.baseColour(), WHITE);
        if (ofOurs) {
            pbr.put("metallicFactor", 0);
        }
        if (material.doubleSided()) {
            out.put("doubleSided", true);
        }
        for (TextureUse use : material.textures()) {
            int last = use.slot().lastIndexOf('/');
            ObjectNode info = owner(out, use.slot().substring(0, Math.max(0, last)))
                    .putObject(use.slot().substring(last + 1));
            info.put("index", use.texture());
            info.setAll(GltfWriter.carried(use.carried()));
        }
        if (pbr.isEmpty()) {
            out.remove(PBR);
        }
        return out;
    }

    /** @param kept what of the texture is carried, before anything modelled is taken out of it */
    static Texture readTexture(JsonCursor at, Passthrough kept, Passthrough sampler, int images) throws ReadFailed {
        ObjectNode rest = GltfWriter.carried(kept);
        SortedMap<String, Integer> others = new TreeMap<>();
        if (rest.get(EXTENSIONS) instanceof ObjectNode extensions) {
            for (String name : List.copyOf(extensions.propertyNames())) {
                if (extensions.get(name) instanceof ObjectNode extension && extension.has("source")) {
                    others.put(name, at.at(EXTENSIONS).at(name).index("source", images, "images"));
                    extension.remove("source");
                }
            }
        }
        return new Texture(
                at.text("name", ""),
                at.index("source", images, "images"),
                others,
                sampler,
                rest.isEmpty() ? Passthrough.NONE : new Passthrough(rest.toString()));
    }

    /** @param samplers those written so far; that of the texture is added where it is another */
    static ObjectNode write(Texture texture, List<Passthrough> samplers) {
        ObjectNode out = GltfWriter.carried(texture.carried());
        GltfWriter.name(out, texture.name());
        GltfWriter.index(out, "source", texture.image());
        if (!texture.sampler().isEmpty()) {
            if (!samplers.contains(texture.sampler())) {
                samplers.add(texture.sampler());
            }
            out.put("sampler", samplers.indexOf(texture.sampler()));
        }
        for (Map.Entry<String, Integer> other : texture.others().entrySet()) {
            child(child(out, EXTENSIONS), other.getKey()).put("source", other.getValue());
        }
        return out;
    }
}
