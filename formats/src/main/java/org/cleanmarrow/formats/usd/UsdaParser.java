package org.cleanmarrow.formats.usd;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.regex.Pattern;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.work.Work;
import org.jspecify.annotations.Nullable;

/**
 * Reads the text form of USD into prims and values, whatever they mean. Composition arcs are named, not followed; variant sets are gone
 * over. Cost: one pass.
 */
final class UsdaParser {
    private static final int DEEPEST = 256;
    private static final Pattern HALVES =
            Pattern.compile("(half[234]?|quath|(point|normal|vector|color|texCoord)[234]h)(\\[])?");
    private static final double LARGEST_HALF = 65504;
    private static final Set<String> LISTS = Set.of("prepend", "append", "delete", "add", "reorder");
    private static final Set<String> ARCS =
            Set.of("references", "payload", "inherits", "specializes", "variantSets", "variants");

    private final String text;
    private final String file;
    private final Work work;
    private final UsdLayer layer = new UsdLayer();
    private int at;
    private int watched;

    private UsdaParser(String text, String file, Work work) {
        this.text = text;
        this.file = file;
        this.work = work;
    }

    static boolean isText(byte[] bytes) {
        return new String(bytes, 0, Math.min(5, bytes.length), StandardCharsets.US_ASCII).equals("#usda");
    }

    static UsdLayer parse(byte[] bytes, String file, Work work) throws ReadFailed {
        if (!isText(bytes)) {
            throw new ReadFailed(file, "line 1", "expected \"#usda 1.0\"");
        }
        return new UsdaParser(new String(bytes, StandardCharsets.UTF_8), file, work).layer();
    }

    private UsdLayer layer() throws ReadFailed {
        space();
        if (peek() == '(') {
            metadata(layer.metadata, "the layer");
        }
        space();
        while (at < text.length()) {
            String word = word();
            if (isSpecifier(word)) {
                layer.roots.add(prim(word, "", 0));
            } else if (LISTS.contains(word) || word.equals("reorder")) {
                rest();
            } else {
                throw wrong("expected def, over or class, found \"" + shown(word) + "\"");
            }
            space();
        }
        return layer;
    }

    private static boolean isSpecifier(String word) {
        return word.equals("def") || word.equals("over") || word.equals("class");
    }

    private UsdPrim prim(String specifier, String parent, int depth) throws ReadFailed {
        if (depth > DEEPEST) {
            throw wrong("prims are nested deeper than " + DEEPEST);
        }
        space();
        String type = peek() == '"' ? "" : word();
        space();
        String name = string();
        UsdPrim out = new UsdPrim(parent + "/" + name, name, specifier, type);
        space();
        if (peek() == '(') {
            metadata(out.metadata, out.path);
            space();
        }
        take('{');
        space();
        while (peek() != '}') {
            statement(out, depth);
            space();
        }
        at++;
        return out;
    }

    private void statement(UsdPrim prim, int depth) throws ReadFailed {
        watch();
        if (peek() == ';') {
            at++;
            return;
        }
        String word = word();
        if (isSpecifier(word)) {
            prim.children.add(prim(word, prim.path, depth + 1));
            return;
        }
        if (word.equals("variantSet")) {
            layer.arcs.add("variantSet at " + prim.path);
            space();
            string();
            space();
            take('=');
            space();
            skip('{', '}');
            return;
        }
        if (word.equals("reorder")) {
            rest();
            return;
        }
        while (word.equals("custom") || word.equals("uniform") || word.equals("varying") || LISTS.contains(word)) {
            space();
            word = word();
        }
        boolean relation = word.equals("rel");
        String type = word;
        space();
        if (peek() == '[') {
            at++;
            space();
            take(']');
            type += "[]";
        }
        space();
        property(prim, type, relation);
    }

    private void property(UsdPrim prim, String type, boolean relation) throws ReadFailed {
        String name = word();
        String part = "";
        for (String suffix : List.of(".timeSamples", ".connect")) {
            if (name.endsWith(suffix)) {
                part = suffix;
                name = name.substring(0, name.length() - suffix.length());
            }
        }
        UsdPrim.Property p = prim.properties.computeIfAbsent(name, n -> new UsdPrim.Property());
        p.type = relation ? "rel" : type;
        space();
        if (peek() == '=') {
            at++;
            space();
            if (part.equals(".timeSamples")) {
                samples(p);
            } else {
                Object value = value(0);
                if (relation || part.equals(".connect")) {
                    p.targets = UsdPrim.words(value);
                } else {
                    p.value = asTyped(value, type);
                }
            }
        }
        space();
        if (peek() == '(') {
            metadata(p.metadata, prim.path + "." + name);
        }
    }

    /** Numbers as exact as their type is: whoever reads them gets a half where half precision is said. */
    private static @Nullable Object asTyped(@Nullable Object value, String type) {
        if (!HALVES.matcher(type).matches()) {
            return value;
        }
        if (value instanceof Double d) {
            return half(d);
        }
        if (value instanceof double[] many) {
            return Arrays.stream(many).map(UsdaParser::half).toArray();
        }
        return value;
    }

    private static double half(double number) {
        return Float.float16ToFloat(Float.floatToFloat16((float) Math.clamp(number, -LARGEST_HALF, LARGEST_HALF)));
    }

    private void samples(UsdPrim.Property p) throws ReadFailed {
        take('{');
        space();
        while (peek() != '}') {
            watch();
            double time = number();
            space();
            take(':');
            space();
            p.samples.put(time, asTyped(value(0), p.type));
            space();
            if (peek() == ',') {
                at++;
                space();
            }
        }
        at++;
    }

    private void metadata(Map<String, @Nullable Object> out, String where) throws ReadFailed {
        take('(');
        space();
        while (peek() != ')') {
            watch();
            if (peek() == ';' || peek() == ',') {
                at++;
            } else if (peek() == '"' || peek() == '\'') {
                out.put("doc", string());
            } else {
                String key = word();
                while (LISTS.contains(key)) {
                    space();
                    key = word();
                }
                if (ARCS.contains(key)) {
                    layer.arcs.add(key + " at " + where);
                }
                space();
                if (peek() == '=') {
                    at++;
                    space();
                    out.put(key, value(0));
                }
            }
            space();
        }
        at++;
    }

    private @Nullable Object value(int depth) throws ReadFailed {
        if (depth > DEEPEST) {
            throw wrong("values are nested deeper than " + DEEPEST);
        }
        char c = peek();
        return switch (c) {
            case '"', '\'' -> string();
            case '@' -> asset();
            case '<' -> path();
            case '{' -> dictionary(depth);
            case '[', '(' -> many();
            default -> {
                if (c == '-' || c == '+' || c == '.' || c >= '0' && c <= '9') {
                    yield number();
                }
                String word = word();
                yield switch (word) {
                    case "None" -> null;
                    case "true" -> Boolean.TRUE;
                    case "false" -> Boolean.FALSE;
                    case "inf", "nan" -> throw wrong("expected a finite number, found " + word);
                    default -> word;
                };
            }
        };
    }

    /** An array or tuple: numbers in a row, or words. */
    private Object many() throws ReadFailed {
        double[] numbers = new double[16];
        int count = 0;
        List<String> words = new ArrayList<>();
        int open = 0;
        do {
            watch();
            char c = peek();
            if (c == '[' || c == '(') {
                open++;
                at++;
                if (open > DEEPEST) {
                    throw wrong("values are nested deeper than " + DEEPEST);
                }
            } else if (c == ']' || c == ')') {
                open--;
                at++;
            } else if (c == ',') {
                at++;
            } else {
                Object one = value(1);
                if (one instanceof Double || one instanceof Boolean) {
                    if (count == numbers.length) {
                        numbers = Arrays.copyOf(numbers, 2 * count);
                    }
                    numbers[count++] = one instanceof Double d ? d : Boolean.TRUE.equals(one) ? 1 : 0;
                } else if (one != null) {
                    words.add(one.toString());
                }
            }
            if (open > 0) {
                space();
            }
        } while (open > 0);
        return words.isEmpty() ? Arrays.copyOf(numbers, count) : words;
    }

    private Map<String, @Nullable Object> dictionary(int depth) throws ReadFailed {
        take('{');
        Map<String, @Nullable Object> out = new LinkedHashMap<>();
        space();
        while (peek() != '}') {
            watch();
            if (peek() == ',' || peek() == ';') {
                at++;
                space();
                continue;
            }
            // A type, then a name; within samples of metadata a number and a colon.
            String type = peek() == '"' ? string() : word();
            space();
            if (peek() == '[') {
                at++;
                space();
                take(']');
                space();
            }
            String name = peek() == '=' || peek() == ':' ? type : peek() == '"' ? string() : word();
            space();
            if (peek() != '=' && peek() != ':') {
                throw wrong("expected = after " + shown(name));
            }
            at++;
            space();
            out.put(name, value(depth + 1));
            space();
        }
        at++;
        return out;
    }

    private double number() throws ReadFailed {
        int from = at;
        while (at < text.length() && "+-.0123456789eE".indexOf(text.charAt(at)) >= 0) {
            at++;
        }
        try {
            double out = Double.parseDouble(text.substring(from, at));
            if (Double.isInfinite(out)) {
                throw wrong("expected a finite number, found " + shown(text.substring(from, at)));
            }
            return out;
        } catch (NumberFormatException e) {
            at = from;
            throw wrong("expected a number, found \"" + shown(text.substring(from, Math.min(text.length(), from + 12)))
                    + "\"");
        }
    }

    private String string() throws ReadFailed {
        char quote = peek();
        if (quote != '"' && quote != '\'') {
            throw wrong("expected a text in quotes");
        }
        String three = String.valueOf(quote).repeat(3);
        boolean tall = text.startsWith(three, at);
        String end = tall ? three : String.valueOf(quote);
        at += end.length();
        StringBuilder out = new StringBuilder();
        while (at < text.length() && !text.startsWith(end, at)) {
            char c = text.charAt(at++);
            if (c == '\\' && at < text.length()) {
                char next = text.charAt(at++);
                out.append(next == 'n' ? '\n' : next == 't' ? '\t' : next);
            } else if (c == '\n' && !tall) {
                break;
            } else {
                out.append(c);
            }
        }
        if (!text.startsWith(end, at)) {
            throw wrong("a text in quotes does not end");
        }
        at += end.length();
        return out.toString();
    }

    private String asset() throws ReadFailed {
        String mark = text.startsWith("@@@", at) ? "@@@" : "@";
        int end = text.indexOf(mark, at + mark.length());
        if (end < 0) {
            throw wrong("the name of a file does not end with " + mark);
        }
        String out = text.substring(at + mark.length(), end);
        at = end + mark.length();
        space();
        // A prim within that file, and how it is placed in time.
        if (peek() == '<') {
            path();
            space();
        }
        return out;
    }

    private String path() throws ReadFailed {
        int end = text.indexOf('>', at);
        if (end < 0) {
            throw wrong("a path does not end with >");
        }
        String out = text.substring(at + 1, end);
        at = end + 1;
        return out;
    }

    private String word() throws ReadFailed {
        int from = at;
        while (at < text.length()) {
            char c = text.charAt(at);
            if (!Character.isLetterOrDigit(c) && "_:.!|-".indexOf(c) < 0) {
                break;
            }
            at++;
        }
        if (at == from) {
            throw wrong(
                    at < text.length()
                            ? "found \"" + shown(text.substring(at, at + 1)) + "\", which begins nothing"
                            : "the file ends too early");
        }
        return text.substring(from, at);
    }

    /** Goes over something in brackets, whatever it holds. */
    private void skip(char open, char close) throws ReadFailed {
        take(open);
        int depth = 1;
        while (depth > 0) {
            watch();
            char c = peek();
            if (c == '"' || c == '\'') {
                string();
                continue;
            }
            depth += c == open ? 1 : c == close ? -1 : 0;
            at++;
        }
    }

    private void rest() {
        while (at < text.length() && text.charAt(at) != '\n') {
            at++;
        }
    }

    private void space() {
        while (at < text.length()) {
            char c = text.charAt(at);
            if (c == '#') {
                rest();
            } else if (Character.isWhitespace(c) || c == '\uFEFF') {
                at++;
            } else {
                return;
            }
        }
    }

    private char peek() throws ReadFailed {
        if (at >= text.length()) {
            throw wrong("the file ends too early");
        }
        return text.charAt(at);
    }

    private void take(char c) throws ReadFailed {
        if (peek() != c) {
            throw wrong("expected " + c + ", found \"" + shown(text.substring(at, Math.min(text.length(), at + 12)))
                    + "\"");
        }
        at++;
    }

    private void watch() {
        if (at - watched > 1 << 16) {
            watched = at;
            work.stopIfCancelled();
            work.at(at / (double) text.length(), "reading " + file);
        }
    }

    private static String shown(String found) {
        return found.replaceAll("\\p{Cntrl}", " ").strip();
    }

    private ReadFailed wrong(String what) {
        long line = 1
                + text.substring(0, Math.min(at, text.length()))
                        .chars()
                        .filter(c -> c == '\n')
                        .count();
        return new ReadFailed(file, "line " + line, what);
    }
}
