package org.cleanmarrow.formats.gltf;

import java.io.IOException;
import java.net.URLDecoder;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.Base64;
import java.util.Locale;
import org.cleanmarrow.formats.file.ReadFailed;
import org.jspecify.annotations.Nullable;

/** Bytes that a document points to: data URIs, and files in the document's own folder and nowhere else. */
final class Uris {
    private Uris() {}

    static boolean isData(String uri) {
        return uri.regionMatches(true, 0, "data:", 0, 5);
    }

    /** Decodes a base64 or percent-encoded data URI. */
    static byte[] data(JsonCursor at, String uri) throws ReadFailed {
        int comma = uri.indexOf(',');
        if (comma < 0) {
            throw at.wrong("uri", "expected a data URI with a comma before its data");
        }
        String head = uri.substring(5, comma).toLowerCase(Locale.ROOT);
        String body = uri.substring(comma + 1);
        try {
            if (head.endsWith(";base64")) {
                return Base64.getMimeDecoder().decode(body);
            }
            return URLDecoder.decode(body.replace("+", "%2B"), StandardCharsets.ISO_8859_1)
                    .getBytes(StandardCharsets.ISO_8859_1);
        } catch (IllegalArgumentException e) {
            throw at.wrong("uri", "the data URI is not well formed");
        }
    }

    /** Media type of a data URI; empty where it names none. */
    static String mediaType(String uri) {
        int end = uri.indexOf(',');
        int semicolon = uri.indexOf(';');
        return uri.substring(5, semicolon > 0 && semicolon < end ? semicolon : Math.max(5, end));
    }

    /** A URI without its escapes. */
    static String plain(String uri) {
        try {
            return URLDecoder.decode(uri.replace("+", "%2B"), StandardCharsets.UTF_8);
        } catch (IllegalArgumentException e) {
            return uri;
        }
    }

    /** The relative URI of a relative path. */
    static String of(Path path) {
        StringBuilder out = new StringBuilder();
        for (Path part : path) {
            String escaped =
                    URLEncoder.encode(part.toString(), StandardCharsets.UTF_8).replace("+", "%20");
            out.append(out.isEmpty() ? "" : "/").append(escaped);
        }
        return out.toString();
    }

    /**
     * The file that a relative URI names.
     *
     * @return null where it does not exist
     * @throws ReadFailed where the URI leads out of the folder
     */
    @Nullable
    static Path file(JsonCursor at, @Nullable Path folder, String uri) throws ReadFailed {
        ReadFailed outside = at.wrong(
                "uri", "expected a file in the document's own folder, found \"" + brief(uri) + "\"; it was not opened");
        if (folder == null) {
            throw at.wrong("uri", "there is no folder to look for \"" + brief(uri) + "\" in");
        }
        try {
            String plain = URLDecoder.decode(uri.replace("+", "%2B"), StandardCharsets.UTF_8);
            boolean scheme = plain.matches("^[A-Za-z][A-Za-z0-9+.-]*:.*");
            if (plain.isEmpty()
                    || scheme
                    || plain.startsWith("/")
                    || plain.contains("\\")
                    || plain.indexOf('\0') >= 0) {
                throw outside;
            }
            for (String part : plain.split("/")) {
                if (part.equals("..")) {
                    throw outside;
                }
            }
            Path path = folder.resolve(plain);
            if (!Files.exists(path)) {
                return null;
            }
            if (!path.toRealPath().startsWith(folder.toRealPath()) || !Files.isRegularFile(path)) {
                throw outside;
            }
            return path;
        } catch (IllegalArgumentException | IOException e) {
            throw e instanceof InvalidPathException || e instanceof IllegalArgumentException
                    ? outside
                    : at.wrong("uri", "\"" + brief(uri) + "\" cannot be read: " + e.getMessage());
        }
    }

    private static String brief(String uri) {
        return uri.length() <= 60 ? uri : uri.substring(0, 57) + "...";
    }
}
