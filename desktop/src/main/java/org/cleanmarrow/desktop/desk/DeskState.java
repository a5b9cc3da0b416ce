package org.cleanmarrow.desktop.desk;

import java.util.Optional;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.ledger.History;
import org.cleanmarrow.measure.DisplacementMap;
import org.cleanmarrow.model.Asset;

/**
 * All that decides what the interface shows, but for how the view draws it, the moment that is played and what is still being found
 * out. Whatever changes it gives another one that is in agreement with itself: what is in hand is of the asset looked at.
 *
 * @param piece     null before anything is opened
 * @param reference a skeleton that this one is compared with; null for none
 * @param beside    what is looked at in place of what was received; null for that itself
 * @param price     what the last step that was asked for costs; null until it is asked
 */
record DeskState(
        Piece piece,
        Station station,
        Target target,
        Held held,
        Played played,
        Asset reference,
        Desk.Beside beside,
        DisplacementMap price) {
    static final DeskState FIRST = new DeskState(
            null,
            Station.INTAKE,
            Target.of(Conventions.parse("z-up-cm-lh").orElseThrow()),
            Held.NOTHING,
            Played.NOTHING,
            null,
            null,
            null);

    /** The asset that is looked at. */
    Optional<Asset> asset() {
        return Optional.ofNullable(piece).map(Piece::asset);
    }

    /** Something else was opened: nothing of it is in hand. */
    DeskState opened(Piece other) {
        return new DeskState(other, station, target, Held.NOTHING, Played.NOTHING, reference, null, null);
    }

    /** Nothing is open any more; what one works for stays. */
    DeskState closed() {
        return FIRST.meantFor(target);
    }

    /** The same piece of work at another step, or with others: what is in hand and still there stays in hand. */
    DeskState with(Piece next) {
        Asset now = next.asset();
        return new DeskState(
                next, station, target, held.on(piece.asset(), now), played.on(now), reference, beside, price);
    }

    DeskState with(History next) {
        return with(piece.to(next));
    }

    DeskState at(Station next) {
        return new DeskState(piece, next, target, held, played, reference, beside, price);
    }

    DeskState meantFor(Target next) {
        return new DeskState(piece, station, next, held, played, reference, beside, price);
    }

    DeskState with(Held next) {
        return new DeskState(piece, station, target, next, played, reference, beside, price);
    }

    DeskState with(Played next) {
        return new DeskState(piece, station, target, held, next, reference, beside, price);
    }

    DeskState comparedWith(Asset skeleton) {
        return new DeskState(piece, station, target, held, played, skeleton, beside, price);
    }

    DeskState besides(Desk.Beside next) {
        return new DeskState(piece, station, target, held, played, reference, next, price);
    }

    DeskState with(DisplacementMap next) {
        return new DeskState(piece, station, target, held, played, reference, beside, next);
    }
}
