package org.cleanmarrow.desktop.desk;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Function;
import org.cleanmarrow.work.Work;

/**
 * What is to be known of an asset, or of a selection on it, found away from the interface thread and kept while the thing
 * it is about is the same object. Asked on the interface thread alone.
 */
public final class Facts {
    private static final int MOST = 96;

    private final WorkQueue queue = new WorkQueue("facts", p -> {});
    private final Runnable announce;
    private final Map<String, Known> known = new LinkedHashMap<>() {
        private static final long serialVersionUID = 1;

        @Override
        protected boolean removeEldestEntry(Map.Entry<String, Known> eldest) {
            return size() > MOST;
        }
    };
    private final Map<String, Object> asked = new ConcurrentHashMap<>();

    /** @param value null where finding it failed; it is not tried again for the same thing */
    private record Known(Object about, Object value) {}

    /** @param announce called when something that was asked for is there */
    Facts(Runnable announce) {
        this.announce = announce;
    }

    WorkQueue queue() {
        return queue;
    }

    /**
     * A fact, or nothing while it is still being found; whoever asked is told of it by the desk's next change.
     *
     * @param what  names the fact, with everything but {@code about} that it depends on
     * @param about the thing by identity, such as an asset
     */
    public <T> Optional<T> of(String what, Object about, Function<Work, T> find) {
        Known there = known.get(what);
        if (there != null && there.about == about) {
            @SuppressWarnings("unchecked")
            T value = (T) there.value;
            return Optional.ofNullable(value);
        }
        if (asked.get(what) != about) {
            asked.put(what, about);
            queue.run(
                    w -> asked(what, about) ? find.apply(w) : null,
                    found -> came(what, about, found),
                    e -> came(what, about, null));
        }
        return Optional.empty();
    }

    private boolean asked(String what, Object about) {
        return asked.get(what) == about;
    }

    private void came(String what, Object about, Object value) {
        if (asked.get(what) == about) {
            asked.remove(what);
            known.put(what, new Known(about, value));
            announce.run();
        }
    }
}
