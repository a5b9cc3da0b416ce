package org.cleanmarrow.formats.file;

import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * Where the pictures of what is written lie.
 *
 * @param base what their names begin with, without ending; what is written in several formats may share them
 */
public record Pictures(Place place, String base) {
    /** Behind the base: the folder that holds them. */
    private static final String FOLDER = "_textures";

    /** The places there are. */
    public enum Place {
        /** Inside the model; beside it where the format holds none. */
        EMBEDDED,
        /** Each a file beside the model, {@code name_v003_sail.png}. */
        BESIDE,
        /** Each a file in a folder of their own, {@code name_v003_textures/sail.png}. */
        FOLDER;

        /** As recipes write it. */
        public String key() {
            return name().toLowerCase(Locale.ROOT);
        }

        public static Optional<Place> of(String key) {
            return Arrays.stream(values()).filter(p -> p.key().equals(key)).findFirst();
        }

        public static List<String> keys() {
            return Arrays.stream(values()).map(Place::key).toList();
        }
    }

    public static Pictures embedded(String base) {
        return new Pictures(Place.EMBEDDED, base);
    }

    /** A file for a picture, with a slash behind its folder where it has one. */
    String file(String picture) {
        return base + (place == Place.FOLDER ? FOLDER + "/" : "_") + picture;
    }
}
