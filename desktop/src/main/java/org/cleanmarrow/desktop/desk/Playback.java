package org.cleanmarrow.desktop.desk;

import java.util.IdentityHashMap;
import java.util.Map;
import java.util.Optional;
import javafx.beans.property.BooleanProperty;
import javafx.beans.property.DoubleProperty;
import javafx.beans.property.ObjectProperty;
import javafx.beans.property.ReadOnlyObjectProperty;
import javafx.beans.property.SimpleBooleanProperty;
import javafx.beans.property.SimpleDoubleProperty;
import javafx.beans.property.SimpleObjectProperty;
import javafx.beans.property.SimpleStringProperty;
import javafx.beans.property.StringProperty;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.trial.TrialPose;

/** What is shown of time: a clip or a trial pose, where in it, and whether it plays. */
public final class Playback {
    private final StringProperty clip = new SimpleStringProperty("");
    private final ObjectProperty<TrialPose> trial = new SimpleObjectProperty<>();
    private final DoubleProperty seconds = new SimpleDoubleProperty();
    private final BooleanProperty playing = new SimpleBooleanProperty();
    /** The trial pose as clips of the assets that it was last held against; the same clip as long as nothing changes. */
    private final Map<Asset, Clip> trialClips = new IdentityHashMap<>();

    Playback() {
        clip.addListener((o, before, now) -> {
            if (!now.isEmpty()) {
                trial.set(null);
            }
        });
    }

    public StringProperty clip() {
        return clip;
    }

    public ReadOnlyObjectProperty<TrialPose> trial() {
        return trial;
    }

    public DoubleProperty seconds() {
        return seconds;
    }

    public BooleanProperty playing() {
        return playing;
    }

    /** Holds a trial pose all the way, in place of a clip; null for none. */
    public void hold(TrialPose pose) {
        playing.set(false);
        trialClips.clear();
        clip.set("");
        trial.set(pose);
        seconds.set(pose == null ? 0 : 1);
    }

    /** What is shown on an asset: the trial pose, or else the clip of the name that was picked. */
    public Optional<Clip> on(Asset asset) {
        if (trial.get() != null) {
            if (trialClips.size() > 4 && !trialClips.containsKey(asset)) {
                trialClips.clear();
            }
            return Optional.of(
                    trialClips.computeIfAbsent(asset, a -> trial.get().clip(a)));
        }
        return picked(asset);
    }

    /** The clip of an asset that has the name that was picked, whatever is held. */
    public Optional<Clip> picked(Asset asset) {
        int found = asset.findClip(clip.get());
        return found < 0 ? Optional.empty() : Optional.of(asset.clips().get(found));
    }
}
