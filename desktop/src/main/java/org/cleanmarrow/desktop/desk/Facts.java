package org.cleanmarrow.desktop.desk;

import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Function;
import org.cleanmarrow.work.Work;

/**
 * What is to be known of an asset, or of a selection on it, found away from the interface thread. Of each kind of fact the
 * one that was asked for last is kept, so that no asset is held that nobody looks at. Asked on the interface thread alone.
 */
public final class Facts {
    /** What was not looked for because something else was asked by then; who asks again is given it by another task. */
    private static final Object LEFT = new Object();

    private final WorkQueue queue;
    private final Runnable announce;
    private final Map<String, Known> known = new HashMap<>();
    private final Map<String, About> asked = new ConcurrentHashMap<>();

    /** What a fact is of: a thing by identity, and what else it depends on. */
    private record About(Object thing, Object also) {
        boolean is(About other) {
            return other != null && thing == other.thing && (also == other.also || also.equals(other.also));
        }
    }

    /** @param value null where finding it failed; it is not tried again for the same thing */
    private record Known(About about, Object value) {}

    /**
     * @param name     of the queue that they are found on, one after the other
     * @param announce called when something that was asked for is there
     */
    Facts(String name, Runnable announce) {
        queue = new WorkQueue(name, p -> {});
        this.announce = announce;
    }

    WorkQueue queue() {
        return queue;
    }

    /** A fact of a thing alone. */
    public <T> Optional<T> of(String what, Object thing, Function<Work, T> find) {
        return of(what, thing, "", find);
    }

    /**
     * A fact, or nothing while it is still being found; whoever asked is told of it by the desk's next change.
     *
     * @param what  names the kind of fact
     * @param thing what it is of by identity, such as an asset
     * @param also  what else it depends on, by identity or equality
     */
    public <T> Optional<T> of(String what, Object thing, Object also, Function<Work, T> find) {
        About about = new About(thing, also);
        Known there = known.get(what);
        if (there != null && there.about.is(about)) {
            @SuppressWarnings("unchecked")
            T value = (T) there.value;
            return Optional.ofNullable(value);
        }
        if (!about.is(asked.get(what))) {
            asked.put(what, about);
            queue.run(
                    w -> about.is(asked.get(what)) ? find.apply(w) : LEFT,
                    found -> {
                        if (found != LEFT) {
                            came(what, about, found);
                        }
                    },
                    e -> came(what, about, null));
        }
        return Optional.empty();
    }

    private void came(String what, About about, Object value) {
        if (about.is(asked.get(what))) {
            asked.remove(what);
            known.put(what, new Known(about, value));
            announce.run();
        }
    }
}
