package org.cleanmarrow.desktop.desk;

import java.util.List;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.formats.delivery.Delivery;
import org.cleanmarrow.ledger.History;
import org.cleanmarrow.model.Asset;

/**
 * The piece of work on the desk.
 *
 * @param history   what was opened, and what was done to it
 * @param looking   number of steps that are looked at; all of them unless an earlier chip was chosen
 * @param source    where it came from
 * @param joined    what became of the joints of files that were opened together with the first
 * @param delivered its last delivery; null before there is one
 */
public record Piece(
        History history, int looking, String source, List<AssetFiles.Joined> joined, Delivery.Delivered delivered) {
    /** Something that was just opened. */
    static Piece of(History history, String source, List<AssetFiles.Joined> joined) {
        return new Piece(history, history.done().size(), source, joined, null);
    }

    /** The asset at the step that is looked at. */
    public Asset asset() {
        return history.after(looking);
    }

    Piece lookingAt(int steps) {
        return new Piece(history, steps, source, joined, delivered);
    }

    /** With another history, the end of which is looked at. */
    Piece to(History next) {
        return with(next).lookingAt(next.done().size());
    }

    /** With a history of the same steps. */
    Piece with(History next) {
        return new Piece(next, looking, source, joined, delivered);
    }

    Piece with(Delivery.Delivered last) {
        return new Piece(history, looking, source, joined, last);
    }
}
