package org.cleanmarrow.formats.file;

import java.util.List;
import org.cleanmarrow.model.Asset;
import org.jspecify.annotations.Nullable;

/**
 * What a format makes of an asset, before anything is put on disk.
 *
 * @param pieces the files, the one to be opened first
 * @param notes  what the format cannot hold or was written another way, one sentence each
 */
public record Written(List<Piece> pieces, List<String> notes) {
    /**
     * One file.
     *
     * @param meant what reading it should give; null for one that only serves another, such as a picture
     */
    public record Piece(String name, byte[] bytes, @Nullable Asset meant) {}

    public Written {
        pieces = List.copyOf(pieces);
        notes = List.copyOf(notes);
    }
}
