package org.cleanmarrow.formats.file;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Objects;
import java.util.Set;
import java.util.SortedSet;
import java.util.TreeSet;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Image;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.picture.PictureHead;
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
        /** For each picture, in any format that writes the same asset alike. */
        private final List<String> names = new ArrayList<>();

        private final SortedSet<Integer> used = new TreeSet<>();

        public Names(Asset asset, Pictures pictures) {
            this.asset = asset;
            Set<String> taken = new HashSet<>();
            for (Image picture : asset.images()) {
                String called = picture.name().isBlank() ? picture.uri().replaceFirst(".*/", "") : picture.name();
                String plain =
                        called.replaceAll("(?i)\\.(png|jpe?g|webp|ktx2)$", "").replaceAll("[^\\p{L}\\p{N}_-]", "_");
                String name = plain.isEmpty() ? "picture" : plain;
                for (int n = 2; !taken.add(name.toLowerCase(Locale.ROOT)); n++) {
                    name = (plain.isEmpty() ? "picture" : plain) + "_" + n;
                }
                names.add(pictures.file(name + ending(picture)));
            }
        }

        /** Name of the file that a picture goes to, with a slash behind its folder where it has one. */
        public String file(int image) {
            used.add(image);
            return names.get(image);
        }

        /** The pictures whose names were asked for. */
        public List<Written.Piece> pieces() {
            return used.stream()
                    .map(i -> new Written.Piece(
                            names.get(i),
                            Objects.requireNonNull(asset.images().get(i).bytes()),
                            null))
                    .toList();
        }

        private static String ending(Image picture) {
            String type = picture.mimeType();
            if (type.isEmpty() && picture.bytes() != null) {
                type = PictureHead.of(picture.bytes())
                        .map(PictureHead::mimeType)
                        .orElse("");
            }
            return switch (type) {
                case "image/jpeg" -> ".jpg";
                case "image/webp" -> ".webp";
                case "image/ktx2" -> ".ktx2";
                default -> ".png";
            };
        }
    }
}
