package org.cleanmarrow.desktop.station;

import java.util.List;
import java.util.Optional;
import javafx.scene.Node;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.viewport.Brush;
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
    private List<Act> acts = List.of();
    private List<Node> tray = List.of();
    private List<Piece> contents = List.of();

    protected StationDef(Station station, Desk desk) {
        this.station = station;
        this.desk = desk;
    }

    public final Station station() {
        return station;
    }

    /** What there is of it, beside its name: numbers with their nouns; asked for at every refreshing. */
    public abstract String facts();

    /**
     * Says what it is made of, once.
     *
     * @param itsActs in the order of the work
     * @param itsTray what is used dozens of times an hour, under the view, at the right of how to select
     * @param pieces  what the contents show
     */
    protected final void consistOf(List<Act> itsActs, List<Node> itsTray, Piece... pieces) {
        acts = itsActs;
        tray = itsTray;
        contents = List.of(pieces);
    }

    public final List<Act> acts() {
        return acts;
    }

    public final List<Node> tray() {
        return tray;
    }

    public final List<Piece> contents() {
        return contents;
    }

    /** A list of its own for the contents, which takes what height is left. */
    public Optional<Node> own() {
        return Optional.empty();
    }

    /** What a brush changes here; empty where nothing is painted. */
    public Optional<Brush.Paint> paint() {
        return Optional.empty();
    }

    /** Brings the tray and its own list up to what there is; called while the station is open. */
    public void refresh() {}
}
