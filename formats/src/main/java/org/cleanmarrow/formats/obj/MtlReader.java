package org.cleanmarrow.formats.obj;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Objects;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.text.TextScanner;

/** Reads what the desk shows of an MTL file: colour, opacity and colour picture of each material. */
final class MtlReader {
    private MtlReader() {}

    /**
     * One material.
     *
     * @param colour  red, green, blue, opacity
     * @param picture file name of the colour picture; empty: none
     */
    record Mtl(float[] colour, String picture) {}

    static Map<String, Mtl> read(byte[] bytes, String file) throws ReadFailed {
        TextScanner in = new TextScanner(bytes, file);
        Map<String, Mtl> out = new LinkedHashMap<>();
        String name = null;
        boolean any = in.moreAnywhere();
        while (any) {
            String word = in.word();
            if (word.equals("newmtl")) {
                name = in.rest();
                out.put(name, new Mtl(new float[] {0.8f, 0.8f, 0.8f, 1}, ""));
            } else if (name != null) {
                Mtl mtl = Objects.requireNonNull(out.get(name));
                switch (word) {
                    case "Kd" -> {
                        // A grey may be written once; spectral curves are passed over.
                        if (in.numberNext()) {
                            double r = in.number();
                            double g = in.numberNext() ? in.number() : r;
                            double b = in.numberNext() ? in.number() : g;
                            out.put(
                                    name,
                                    new Mtl(new float[] {(float) r, (float) g, (float) b, mtl.colour[3]}, mtl.picture));
                        }
                    }
                    case "d", "Tr" -> {
                        if (in.numberNext()) {
                            double value = in.number();
                            float[] colour = mtl.colour.clone();
                            colour[3] = (float) Math.clamp(word.equals("d") ? value : 1 - value, 0, 1);
                            out.put(name, new Mtl(colour, mtl.picture));
                        }
                    }
                    case "map_Kd" -> out.put(name, new Mtl(mtl.colour, picture(in.rest())));
                    default -> {}
                }
            }
            any = in.nextLine();
        }
        return out;
    }

    /** The file at the end of a line that may begin with options such as {@code -s 1 1 1}. */
    private static String picture(String rest) {
        String left = rest;
        while (left.startsWith("-")) {
            String[] parts = left.split("\\s+", 2);
            left = parts.length < 2 ? "" : parts[1];
            while (left.matches("^(on|off|[-+]?[0-9.]+)\\s.*")) {
                left = left.split("\\s+", 2)[1];
            }
        }
        return left;
    }
}
