package org.cleanmarrow.desktop.desk;

import java.util.ArrayList;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import javafx.beans.property.BooleanProperty;
import javafx.beans.property.DoubleProperty;
import javafx.beans.property.ObjectProperty;
import javafx.beans.property.ReadOnlyObjectProperty;
import javafx.beans.property.SimpleBooleanProperty;
import javafx.beans.property.SimpleDoubleProperty;
import org.cleanmarrow.edit.Clips;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.trial.TrialPose;

/** What is shown of time: a clip or a trial pose, where in it, and whether it plays. */
public final class Playback {
    private final Whole<DeskState> desk;
    private final ObjectProperty<String> clip;
    private final ReadOnlyObjectProperty<TrialPose> trial;
    private final ObjectProperty<List<String>> along;
    private final ObjectProperty<Frames> range;
    private final DoubleProperty speed = new SimpleDoubleProperty(1);
    private final DoubleProperty seconds = new SimpleDoubleProperty();
    private final BooleanProperty playing = new SimpleBooleanProperty();
    /** What is shown on the assets that were looked at last, where it is made; the same clip as long as nothing changes. */
    private final Map<Asset, Clip> made = new IdentityHashMap<>();

    /** What those are made of. */
    private Object madeOf;

    private Clip live;
    private Asset liveOn;

    /** Frames of the clip in hand, both ends included. */
    public record Frames(int first, int last) {}

    Playback(Whole<DeskState> desk) {
        this.desk = desk;
        clip = desk.part(s -> s.played().clip(), (s, next) -> s.with(s.played().withClip(next)));
        // Before anyone asks what is shown.
        clip.addListener((o, before, now) -> live = null);
        trial = desk.part(s -> s.played().trial());
        along = desk.part(
                s -> s.played().along(), (s, next) -> s.with(s.played().withAlong(next)));
        range = desk.part(
                s -> s.played().range(), (s, next) -> s.with(s.played().withRange(next)));
        playing.addListener((o, before, now) -> live = now ? null : live);
    }

    public ObjectProperty<String> clip() {
        return clip;
    }

    public ReadOnlyObjectProperty<TrialPose> trial() {
        return trial;
    }

    /** Names of clips that play along with the picked one; where they move the same, the last wins. */
    public ObjectProperty<List<String>> along() {
        return along;
    }

    /** How many times as fast as time passes. */
    public DoubleProperty speed() {
        return speed;
    }

    public DoubleProperty seconds() {
        return seconds;
    }

    /** The frames in hand; null for none. */
    public ObjectProperty<Frames> range() {
        return range;
    }

    /** Takes frames in hand, from one to another in either order. */
    public void take(int from, int to) {
        range.set(new Frames(Math.min(from, to), Math.max(from, to)));
    }

    public BooleanProperty playing() {
        return playing;
    }

    /** Nothing plays, and the moment is the first. */
    void stop() {
        live = null;
        playing.set(false);
        seconds.set(0);
    }

    /** Holds a trial pose all the way, in place of a clip; null for none. */
    public void hold(TrialPose pose) {
        live = null;
        playing.set(false);
        desk.change(s -> s.with(Played.holding(pose)));
        seconds.set(pose == null ? 0 : 1);
    }

    /** Shows what is made as one watches, on one asset, in place of all else; null: no more. */
    void live(Asset asset, Clip shown, double at) {
        boolean was = live != null;
        live = shown;
        liveOn = asset;
        if (shown != null || was) {
            playing.set(false);
            seconds.set(shown == null ? 0 : at);
        }
    }

    /** What is shown on an asset: the trial pose, or else the clip of the name that was picked, with those that play along. */
    public Optional<Clip> on(Asset asset) {
        if (live != null && liveOn == asset) {
            return Optional.of(live);
        }
        Played played = desk.now().played();
        if (played.trial() != null) {
            return Optional.of(made(asset, played.trial(), a -> played.trial().clip(a)));
        }
        Optional<Clip> picked = picked(asset);
        List<Clip> more = played.along().stream()
                .map(asset::findClip)
                .filter(c -> c >= 0)
                .map(asset.clips()::get)
                .toList();
        if (picked.isEmpty() || more.isEmpty()) {
            return picked;
        }
        List<Clip> all = new ArrayList<>(List.of(picked.get()));
        all.addAll(more);
        return Optional.of(made(asset, played.along(), a -> Clips.together(all)));
    }

    private Clip made(Asset asset, Object of, Function<Asset, Clip> how) {
        if (madeOf != of || made.size() > 4 && !made.containsKey(asset)) {
            made.clear();
            madeOf = of;
        }
        return made.computeIfAbsent(asset, how);
    }

    /** The clip of an asset that has the name that was picked, whatever is held. */
    public Optional<Clip> picked(Asset asset) {
        return desk.now().played().picked(asset);
    }
}
