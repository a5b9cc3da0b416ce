package org.cleanmarrow.formats.file;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Image;
import org.cleanmarrow.model.Passthrough;
import org.jspecify.annotations.Nullable;

/** Pictures that lie beside a file which names them. */
public final class PictureFiles {
    private static final long MOST_BYTES = 256L << 20;

    private PictureFiles() {}

    /**
     * A picture, held whole. Where it is not as the file names it, one of that name anywhere below the folder is taken.
     *
     * @param folder null: there is none
     * @throws ReadFailed where it is not there or of a kind that glTF does not take
     */
    public static Image load(@Nullable Path folder, String file) throws ReadFailed {
        String lower = file.toLowerCase(Locale.ROOT);
        String type = lower.endsWith(".png")
                ? "image/png"
                : lower.endsWith(".jpg") || lower.endsWith(".jpeg") ? "image/jpeg" : "";
        String name = file.replaceFirst(".*[/\\\\]", "");
        Path path = Neighbours.find(folder, file)
                .or(() -> Neighbours.below(folder, file))
                .orElse(null);
        try {
            if (path == null || Files.size(path) > MOST_BYTES) {
                throw new ReadFailed("Picture " + name, "", "neither beside the file nor below; it was left out.");
            }
            if (type.isEmpty()) {
                throw new ReadFailed("Picture " + name, "", "of no kind that glTF takes; it was left out.");
            }
            return new Image(name, type, "", Files.readAllBytes(path), Passthrough.NONE);
        } catch (IOException e) {
            throw new ReadFailed("Picture " + name, "", "cannot be opened; it was left out.");
        }
    }

    /** Files for the pictures of an asset that a writer puts beside its own, each named once. */
    public static final class Names {
        private final Asset asset;
        private final String base;
        private final Map<Integer, String> names = new LinkedHashMap<>();

        public Names(Asset asset, String base) {
            this.asset = asset;
            this.base = base;
        }

        /** Name of the file that a picture goes to. */
        public String file(int image) {
            return names.computeIfAbsent(image, i -> {
                Image picture = asset.images().get(i);
                String ending = picture.mimeType().equals("image/jpeg") ? ".jpg" : ".png";
                String plain =
                        picture.name().replaceAll("(?i)\\.(png|jpe?g)$", "").replaceAll("[^\\p{L}\\p{N}_-]", "_");
                String name = base + "_" + (plain.isEmpty() ? i : plain) + ending;
                return names.containsValue(name) ? base + "_" + i + ending : name;
            });
        }

        public List<Written.Piece> pieces() {
            List<Written.Piece> out = new ArrayList<>();
            names.forEach((i, name) -> out.add(new Written.Piece(
                    name, Objects.requireNonNull(asset.images().get(i).bytes()), null)));
            return out;
        }
    }
}
