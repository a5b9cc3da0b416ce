package org.cleanmarrow.formats.xml;

import java.util.ArrayDeque;
import java.util.Deque;
import org.cleanmarrow.formats.text.TextOut;

/** XML that is put together element by element, indented. */
public final class XmlOut {
    private final TextOut out = new TextOut();
    private final Deque<String> open = new ArrayDeque<>();

    public XmlOut() {
        out.put("<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n");
    }

    /** Begins an element; names and values of attributes follow each other. */
    public XmlOut begin(String name, String... attributes) {
        tag(name, attributes);
        out.put(">\n");
        open.push(name);
        return this;
    }

    public XmlOut end() {
        String name = open.pop();
        indent();
        out.put("</").put(name).put(">\n");
        return this;
    }

    public XmlOut empty(String name, String... attributes) {
        tag(name, attributes);
        out.put("/>\n");
        return this;
    }

    public XmlOut text(String name, String text, String... attributes) {
        tag(name, attributes);
        out.put(">").put(escaped(text)).put("</").put(name).put(">\n");
        return this;
    }

    public XmlOut floats(String name, float[] values, String... attributes) {
        tag(name, attributes);
        out.put(">");
        for (int i = 0; i < values.length; i++) {
            out.put(i == 0 ? "" : " ").put(values[i]);
        }
        out.put("</").put(name).put(">\n");
        return this;
    }

    public XmlOut wholes(String name, int[] values, String... attributes) {
        tag(name, attributes);
        out.put(">");
        for (int i = 0; i < values.length; i++) {
            out.put(i == 0 ? "" : " ").put(values[i]);
        }
        out.put("</").put(name).put(">\n");
        return this;
    }

    private void indent() {
        for (int i = 0; i < open.size(); i++) {
            out.put(" ");
        }
    }

    private void tag(String name, String... attributes) {
        indent();
        out.put("<").put(name);
        for (int i = 0; i + 1 < attributes.length; i += 2) {
            out.put(" ")
                    .put(attributes[i])
                    .put("=\"")
                    .put(escaped(attributes[i + 1]))
                    .put("\"");
        }
    }

    /** Text without what XML 1.0 cannot hold, and with its own signs written as references. */
    private static String escaped(String text) {
        StringBuilder out = new StringBuilder(text.length());
        text.codePoints().forEach(c -> {
            switch (c) {
                case '&' -> out.append("&amp;");
                case '<' -> out.append("&lt;");
                case '>' -> out.append("&gt;");
                case '"' -> out.append("&quot;");
                case '\n', '\r', '\t' -> out.append("&#").append(c).append(';');
                default -> {
                    if (c >= 0x20 && c < 0xD800 || c >= 0xE000 && c < 0xFFFE || c > 0xFFFF) {
                        out.appendCodePoint(c);
                    }
                }
            }
        });
        return out.toString();
    }

    public byte[] bytes() {
        return out.bytes();
    }
}
