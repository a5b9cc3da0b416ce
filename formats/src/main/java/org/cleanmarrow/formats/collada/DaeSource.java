package org.cleanmarrow.formats.collada;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.xml.XmlNode;
import org.jspecify.annotations.Nullable;

/**
 * A list of values as an accessor reads it (COLLADA 1.4.1, accessor): {@code width} numbers for each of {@code count}
 * elements, side by side; or names.
 *
 * @param values null where the source holds names
 * @param names  null where the source holds numbers
 */
record DaeSource(int width, int count, float @Nullable [] values, String @Nullable [] names) {
    static DaeSource read(XmlNode source) throws ReadFailed {
        XmlNode accessor = source.find("technique_common", "accessor").orElse(null);
        for (XmlNode child : source.children()) {
            switch (child.name()) {
                case "float_array" -> {
                    return numbers(child.floats(), accessor, source);
                }
                case "Name_array", "IDREF_array" -> {
                    String[] words = child.words();
                    return new DaeSource(1, words.length, null, words);
                }
                default -> {
                    // Whole numbers and truth values serve nothing that is read here.
                }
            }
        }
        throw source.wrong("expected a float_array or Name_array");
    }

    private static DaeSource numbers(float[] all, @Nullable XmlNode accessor, XmlNode source) throws ReadFailed {
        if (accessor == null) {
            return new DaeSource(1, all.length, all, null);
        }
        int count = accessor.count("count");
        int stride = accessor.get("stride").isEmpty() ? 1 : accessor.count("stride");
        int offset = accessor.get("offset").isEmpty() ? 0 : accessor.count("offset");
        if (stride == 0 || count > 0 && offset + (long) (count - 1) * stride + 1 > all.length) {
            throw accessor.wrong("asks for " + count + " times " + stride + " numbers from " + offset + " on, and "
                    + all.length + " are there");
        }
        List<Integer> taken = new ArrayList<>();
        List<XmlNode> params = accessor.all("param");
        int at = 0;
        for (XmlNode param : params) {
            // A parameter without a name is passed over; files that name none at all mean every one.
            int width = param.get("type").equals("float4x4") ? 16 : 1;
            boolean named = !param.get("name").isEmpty() || width > 1 || params.size() == 1;
            for (int i = 0; i < width && at < stride; i++, at++) {
                if (named) {
                    taken.add(at);
                }
            }
        }
        if (taken.isEmpty()) {
            for (int i = 0; i < stride; i++) {
                taken.add(i);
            }
        }
        int width = taken.size();
        float[] out = new float[count * width];
        for (int e = 0; e < count; e++) {
            for (int i = 0; i < width; i++) {
                int from = offset + e * stride + taken.get(i);
                if (from >= all.length) {
                    throw source.wrong("the list ends within its last element");
                }
                out[e * width + i] = all[from];
            }
        }
        return new DaeSource(width, count, out, null);
    }

    /** The source that an input names. */
    static DaeSource of(XmlNode input, Map<String, XmlNode> ids) throws ReadFailed {
        return read(target(input, "source", ids));
    }

    /** The element that an attribute of the form {@code #id} points to. */
    static XmlNode target(XmlNode from, String attribute, Map<String, XmlNode> ids) throws ReadFailed {
        String said = from.get(attribute);
        XmlNode found = said.startsWith("#") ? ids.get(said.substring(1)) : null;
        if (found == null) {
            throw from.wrong("names \"" + said + "\" in " + attribute + ", and no element of this file has that id");
        }
        return found;
    }
}
