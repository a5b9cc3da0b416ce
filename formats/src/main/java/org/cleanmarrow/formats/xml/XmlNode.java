package org.cleanmarrow.formats.xml;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import javax.xml.XMLConstants;
import javax.xml.parsers.ParserConfigurationException;
import javax.xml.parsers.SAXParser;
import javax.xml.parsers.SAXParserFactory;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.text.TextScanner;
import org.xml.sax.Attributes;
import org.xml.sax.InputSource;
import org.xml.sax.Locator;
import org.xml.sax.SAXException;
import org.xml.sax.SAXParseException;
import org.xml.sax.helpers.DefaultHandler;

/**
 * An element of an XML file, with the line it begins on. Document type declarations are refused, so nothing outside of
 * the file is ever read and nothing in it can grow.
 */
public final class XmlNode {
    private static final int DEEPEST = 1000;

    private final String file;
    private final String name;
    private final int line;
    private final Map<String, String> attributes;
    private final List<XmlNode> children = new ArrayList<>(2);
    private String text = "";

    private XmlNode(String file, String name, int line, Map<String, String> attributes) {
        this.file = file;
        this.name = name;
        this.line = line;
        this.attributes = attributes;
    }

    /**
     * Reads a whole file.
     *
     * @throws ReadFailed with the line, where it is not well formed
     */
    public static XmlNode parse(byte[] bytes, String file) throws ReadFailed {
        Tree tree = new Tree(file);
        try {
            SAXParserFactory factory = SAXParserFactory.newInstance();
            factory.setNamespaceAware(true);
            factory.setFeature(XMLConstants.FEATURE_SECURE_PROCESSING, true);
            factory.setFeature("http://apache.org/xml/features/disallow-doctype-decl", true);
            factory.setFeature("http://xml.org/sax/features/external-general-entities", false);
            factory.setFeature("http://xml.org/sax/features/external-parameter-entities", false);
            SAXParser parser = factory.newSAXParser();
            // The platform stops at a hundred, and chains of joints nest deeper.
            parser.setProperty("jdk.xml.maxElementDepth", Integer.toString(2 * DEEPEST));
            parser.parse(new InputSource(new ByteArrayInputStream(bytes)), tree);
        } catch (SAXParseException e) {
            boolean declared = String.valueOf(e.getMessage()).contains("DOCTYPE");
            throw new ReadFailed(
                    file,
                    "line " + Math.max(1, e.getLineNumber()),
                    declared
                            ? "a document type is declared, and files with one are not opened; take the DOCTYPE out"
                            : "expected well-formed XML (" + e.getMessage() + ")");
        } catch (SAXException | IOException | ParserConfigurationException e) {
            throw new ReadFailed(file, "", "expected well-formed XML (" + e.getMessage() + ")");
        }
        return tree.root;
    }

    private static final class Tree extends DefaultHandler {
        private final String file;
        private final Deque<XmlNode> open = new ArrayDeque<>();
        private final Deque<StringBuilder> texts = new ArrayDeque<>();

        @SuppressWarnings("NullAway.Init")
        private Locator locator;

        @SuppressWarnings("NullAway.Init")
        private XmlNode root;

        Tree(String file) {
            this.file = file;
        }

        @Override
        public void setDocumentLocator(Locator given) {
            locator = given;
        }

        @Override
        public void startElement(String uri, String local, String qualified, Attributes given)
                throws SAXParseException {
            Map<String, String> own = given.getLength() == 0 ? Map.of() : new HashMap<>(given.getLength() * 2);
            for (int i = 0; i < given.getLength(); i++) {
                own.put(given.getLocalName(i), given.getValue(i));
            }
            XmlNode node = new XmlNode(file, local.intern(), locator.getLineNumber(), own);
            if (open.isEmpty()) {
                root = node;
            } else {
                open.peek().children.add(node);
            }
            if (open.size() > DEEPEST) {
                throw new SAXParseException("elements are nested deeper than " + DEEPEST, locator);
            }
            open.push(node);
            texts.push(new StringBuilder(0));
        }

        @Override
        public void characters(char[] chars, int start, int length) {
            texts.peek().append(chars, start, length);
        }

        @Override
        public void endElement(String uri, String local, String qualified) {
            XmlNode node = open.pop();
            StringBuilder text = texts.pop();
            // Blanks between elements are no text.
            node.text = node.children.isEmpty() ? text.toString() : "";
        }
    }

    public String name() {
        return name;
    }

    public int line() {
        return line;
    }

    /** Value of an attribute; empty where there is none. */
    public String get(String attribute) {
        return attributes.getOrDefault(attribute, "");
    }

    public List<XmlNode> children() {
        return children;
    }

    /** Elements of a name right below. */
    public List<XmlNode> all(String childName) {
        return children.stream().filter(c -> c.name.equals(childName)).toList();
    }

    /** First element on a path of names below. */
    public Optional<XmlNode> find(String... path) {
        XmlNode at = this;
        for (String step : path) {
            XmlNode next = null;
            for (XmlNode child : at.children) {
                if (child.name.equals(step)) {
                    next = child;
                    break;
                }
            }
            if (next == null) {
                return Optional.empty();
            }
            at = next;
        }
        return Optional.of(at);
    }

    /** Text between the tags, without blanks at its ends. */
    public String text() {
        return text.strip();
    }

    /** Every element of the file that carries an id. */
    public Map<String, XmlNode> byId() {
        Map<String, XmlNode> out = new LinkedHashMap<>();
        Deque<XmlNode> left = new ArrayDeque<>(List.of(this));
        while (!left.isEmpty()) {
            XmlNode next = left.pop();
            if (!next.get("id").isEmpty()) {
                out.putIfAbsent(next.get("id"), next);
            }
            next.children.forEach(left::push);
        }
        return out;
    }

    /** The text as words and numbers, with the line of the file for messages. */
    public TextScanner scanner() throws ReadFailed {
        return new TextScanner(text.getBytes(java.nio.charset.StandardCharsets.UTF_8), file, line);
    }

    /** All numbers of the text. */
    public float[] floats() throws ReadFailed {
        TextScanner in = scanner();
        float[] out = new float[Math.max(16, text.length() / 8)];
        int count = 0;
        while (in.moreAnywhere()) {
            if (count == out.length) {
                out = java.util.Arrays.copyOf(out, count * 2);
            }
            out[count++] = (float) in.number();
        }
        return java.util.Arrays.copyOf(out, count);
    }

    /** All whole numbers of the text. */
    public int[] wholes() throws ReadFailed {
        TextScanner in = scanner();
        int[] out = new int[Math.max(16, text.length() / 4)];
        int count = 0;
        while (in.moreAnywhere()) {
            if (count == out.length) {
                out = java.util.Arrays.copyOf(out, count * 2);
            }
            out[count++] = in.whole();
        }
        return java.util.Arrays.copyOf(out, count);
    }

    /** All words of the text. */
    public String[] words() {
        return text.isBlank() ? new String[0] : text().split("\\s+");
    }

    /** The whole number in an attribute, not below zero. */
    public int count(String attribute) throws ReadFailed {
        try {
            int value = Integer.parseInt(get(attribute).strip());
            if (value >= 0) {
                return value;
            }
        } catch (NumberFormatException e) {
            // Said below.
        }
        throw wrong("expected a whole number in " + attribute + ", found \"" + get(attribute) + "\"");
    }

    /** The message for something wrong with this element. */
    public ReadFailed wrong(String expected) {
        return new ReadFailed(file, "line " + line + " (" + name + ")", expected);
    }
}
