package org.cleanmarrow.formats.collada;

import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.cleanmarrow.formats.file.PictureFiles;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.xml.XmlNode;
import org.cleanmarrow.model.Image;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Texture;
import org.jspecify.annotations.Nullable;

/** What the desk shows of materials: diffuse colour, its picture, opacity (COLLADA 1.4.1, profile_COMMON). */
final class DaeMaterials {
    private static final Set<String> SHADERS = Set.of("phong", "lambert", "blinn", "constant");

    private final Map<String, XmlNode> ids;
    private final @Nullable Path folder;
    private final List<String> notes;
    private final Map<String, Integer> known = new HashMap<>();
    private final Map<String, Integer> pictures = new HashMap<>();
    final List<Material> materials = new ArrayList<>();
    final List<Texture> textures = new ArrayList<>();
    final List<Image> images = new ArrayList<>();

    DaeMaterials(Map<String, XmlNode> ids, @Nullable Path folder, List<String> notes) {
        this.ids = ids;
        this.folder = folder;
        this.notes = notes;
    }

    /** Number of the material with an id, or -1 where there is none. */
    int number(String id) throws ReadFailed {
        Integer there = known.get(id);
        XmlNode material = ids.get(id);
        if (there != null || material == null || !material.name().equals("material")) {
            return there == null ? -1 : there;
        }
        String name = ColladaReader.called(material);
        Optional<XmlNode> instance = material.find("instance_effect");
        XmlNode effect =
                instance.map(i -> ids.get(i.get("url").replaceFirst("^#", ""))).orElse(null);
        XmlNode profile = effect == null ? null : effect.find("profile_COMMON").orElse(null);
        float[] colour = {0.8f, 0.8f, 0.8f, 1};
        int texture = -1;
        boolean doubleSided = false;
        if (effect != null && profile != null) {
            XmlNode shader = profile.find("technique").stream()
                    .flatMap(t -> t.children().stream())
                    .filter(c -> SHADERS.contains(c.name()))
                    .findFirst()
                    .orElse(null);
            if (shader != null) {
                XmlNode look = shader.find(shader.name().equals("constant") ? "emission" : "diffuse")
                        .orElse(null);
                colour = look == null ? colour : colour(look, colour);
                colour[3] = opacity(shader);
                texture = look == null ? -1 : texture(look, profile);
                if (texture >= 0) {
                    colour = new float[] {1, 1, 1, colour[3]};
                }
            }
            doubleSided = isDoubleSided(effect);
        }
        // glTF 2.0, 3.9.4: without a mode alpha is not looked at.
        Passthrough mode = colour[3] < 1 ? new Passthrough("{\"alphaMode\":\"BLEND\"}") : Passthrough.NONE;
        materials.add(new Material(name, colour, texture, doubleSided, mode));
        known.put(id, materials.size() - 1);
        return materials.size() - 1;
    }

    /** Not in the standard; written by several exporters in an extra (common practice). */
    private static boolean isDoubleSided(XmlNode effect) {
        for (XmlNode holder : List.of(effect, effect.find("profile_COMMON").orElse(effect))) {
            for (XmlNode extra : holder.all("extra")) {
                for (XmlNode technique : extra.all("technique")) {
                    if (technique
                            .find("double_sided")
                            .filter(d -> d.text().equals("1"))
                            .isPresent()) {
                        return true;
                    }
                }
            }
        }
        return false;
    }

    private static float[] colour(XmlNode look, float[] otherwise) throws ReadFailed {
        Optional<XmlNode> said = look.find("color");
        if (said.isEmpty()) {
            return otherwise;
        }
        float[] c = said.get().floats();
        if (c.length < 3) {
            throw said.get().wrong("expected 3 or 4 numbers, found " + c.length);
        }
        return new float[] {c[0], c[1], c[2], 1};
    }

    private static float opacity(XmlNode shader) throws ReadFailed {
        Optional<XmlNode> factor = shader.find("transparency", "float");
        Optional<XmlNode> colour = shader.find("transparent", "color");
        if (factor.isEmpty() && colour.isEmpty()) {
            return 1;
        }
        float[] f = factor.isPresent() ? factor.get().floats() : new float[] {1};
        float[] c = colour.isPresent() ? colour.get().floats() : new float[] {1, 1, 1, 1};
        boolean byLack = shader.find("transparent")
                .map(t -> t.get("opaque").equals("RGB_ZERO"))
                .orElse(false);
        float by = f.length == 0 ? 1 : f[0];
        float alpha = byLack ? 1 - by * (c.length < 3 ? 0 : (c[0] + c[1] + c[2]) / 3) : by * (c.length < 4 ? 1 : c[3]);
        // Many files say 0 and mean opaque (common practice); what is wholly unseen is nothing to deliver.
        return alpha > 0 && alpha <= 1 ? alpha : 1;
    }

    private int texture(XmlNode look, XmlNode profile) throws ReadFailed {
        Optional<XmlNode> said = look.find("texture");
        if (said.isEmpty()) {
            return -1;
        }
        String name = said.get().get("texture");
        // Through sampler and surface to the image, or straight to it.
        for (String step : List.of("sampler2D/source", "surface/init_from")) {
            for (XmlNode param : profile.all("newparam")) {
                if (param.get("sid").equals(name)) {
                    Optional<XmlNode> next = param.find(step.split("/"));
                    if (next.isPresent()) {
                        name = next.get().text();
                        break;
                    }
                }
            }
        }
        XmlNode image = ids.get(name);
        String file =
                image == null ? "" : image.find("init_from").map(XmlNode::text).orElse("");
        if (image == null || file.isEmpty()) {
            notes.add("Picture " + name + " is used and not in the file.");
            return -1;
        }
        Integer there = pictures.get(file);
        if (there != null) {
            return there;
        }
        int number = -1;
        try {
            images.add(PictureFiles.load(folder, path(file)));
            textures.add(new Texture(image.get("name"), images.size() - 1, Passthrough.NONE));
            number = textures.size() - 1;
        } catch (ReadFailed e) {
            notes.add(e.getMessage());
        }
        pictures.put(file, number);
        return number;
    }

    /** A file name as it is on disk; of absolute ones the last part, because the folder is another one now. */
    private static String path(String uri) {
        String plain = uri;
        try {
            plain = URLDecoder.decode(uri.replace("+", "%2B"), StandardCharsets.UTF_8);
        } catch (IllegalArgumentException e) {
            // A name with a per cent sign of its own.
        }
        plain = plain.replace('\\', '/');
        boolean absolute = plain.startsWith("/") || plain.startsWith("file:") || plain.matches("^[A-Za-z]:.*");
        return absolute ? plain.replaceFirst(".*/", "") : plain.replaceFirst("^\\./", "");
    }
}
