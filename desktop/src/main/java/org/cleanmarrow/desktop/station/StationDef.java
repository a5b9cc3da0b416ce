package org.cleanmarrow.desktop.station;

import java.util.List;
import java.util.Optional;
import javafx.scene.Node;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.examination.Station;

/**
 * What a station is made of. A new one is a folder with a class of this kind and a line in {@code window.Stations}; everything
 * here is built once and changes in place.
 */
public abstract class StationDef {
    /** What the contents at the left show at a station, from top to bottom. */
    public enum Piece {
        MOVERS,
        JOINTS,
        PARTS,
        NAMED,
        CLIPS,
        /** What the station itself lists, see {@link #own}. */
        OWN
    }

    protected final Desk desk;
    private final Station station;

    protected StationDef(Station station, Desk desk) {
        this.station = station;
        this.desk = desk;
    }

    public final Station station() {
        return station;
    }

    /** What there is of it, beside its name: numbers with their nouns; asked for at every refreshing. */
    public abstract String facts();

    /** Its acts in the order of the work. */
    public abstract List<Act> acts();

    /** What is used dozens of times an hour, under the view, at the right of how to select. */
    public abstract List<Node> tray();

    /** What it works on. */
    public abstract List<Piece> contents();

    /** A list of its own for the contents, which takes what height is left. */
    public Optional<Node> own() {
        return Optional.empty();
    }

    /** Brings the tray and its own list up to what there is; called while the station is open. */
    public void refresh() {}
}
