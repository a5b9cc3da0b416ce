package org.cleanmarrow.ledger;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;

/** A clip as it was before the last step that changed how it moves, to hold what it is now against. */
public record EarlierClip(Asset asset, Clip clip) {
    /**
     * @param done what was done to the source up to the state that is looked at
     * @return empty where no step changed it, or where its nodes stood otherwise then, so that the two cannot be held against each
     *     other
     */
    public static Optional<EarlierClip> of(Asset source, List<Replay.Done> done, String name) {
        Asset now = after(source, done, done.size());
        int found = now.findClip(name);
        for (int i = done.size() - 1; i >= 0 && found >= 0; i--) {
            Asset earlier = after(source, done, i);
            int there = earlier.findClip(name);
            if (there < 0 || !standsAlike(earlier, now)) {
                return Optional.empty();
            }
            Clip clip = earlier.clips().get(there);
            if (!movesAlike(clip, now.clips().get(found))) {
                return Optional.of(new EarlierClip(earlier, clip));
            }
        }
        return Optional.empty();
    }

    private static Asset after(Asset source, List<Replay.Done> done, int steps) {
        return steps == 0 ? source : done.get(steps - 1).asset();
    }

    private static boolean movesAlike(Clip one, Clip other) {
        return one.channels().size() == other.channels().size()
                && IntStream.range(0, one.channels().size())
                        .allMatch(c -> one.channels().get(c).track()
                                == other.channels().get(c).track());
    }

    private static boolean standsAlike(Asset one, Asset other) {
        return one.conventions().equals(other.conventions())
                && one.nodes().size() == other.nodes().size()
                && Arrays.equals(one.parents(), other.parents())
                && IntStream.range(0, one.nodes().size())
                        .allMatch(n -> one.nodes()
                                .get(n)
                                .local()
                                .equals(other.nodes().get(n).local()));
    }
}
