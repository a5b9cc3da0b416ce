package org.cleanmarrow.work;

import java.lang.ref.WeakReference;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import java.util.function.Supplier;
import org.cleanmarrow.model.Asset;

/**
 * What was found in some objects, kept while they are in use: for the very same objects it is not looked for again, whoever asks and
 * in whatever asset they are. Assets share what a step leaves alone, so a check keeps what the step cannot have changed. Safe from
 * several threads; two that ask at once may both look.
 *
 * @param <T> immutable, and holding none of the objects
 */
public final class Kept<T> {
    private final int most;
    private final Deque<Known<T>> known = new ArrayDeque<>();

    private record Known<T>(List<WeakReference<Object>> objects, T found) {
        boolean isOf(List<?> others) {
            boolean same = objects.size() == others.size();
            for (int i = 0; same && i < objects.size(); i++) {
                same = objects.get(i).refersTo(others.get(i));
            }
            return same;
        }

        boolean gone() {
            return objects.stream().anyMatch(o -> o.refersTo(null));
        }
    }

    /** @param most how many findings are kept, those asked for last */
    public Kept(int most) {
        this.most = most;
    }

    /** What of an asset decides where its vertices are at rest and in trial poses, and what else is asked for. */
    public static List<Object> posed(Asset asset, Object... also) {
        List<Object> out = new ArrayList<>(List.of(
                asset.nodes(),
                asset.meshes(),
                asset.skins(),
                asset.attached(),
                asset.scenes(),
                asset.carried(),
                asset.conventions()));
        out.addAll(List.of(also));
        return out;
    }

    /** What is kept of these objects, in this order, or what is found now. Nothing is kept where looking fails. */
    public T of(List<?> objects, Supplier<T> look) {
        synchronized (known) {
            for (Known<T> each : known) {
                if (each.isOf(objects)) {
                    known.remove(each);
                    known.addFirst(each);
                    return each.found;
                }
            }
        }
        T found = look.get();
        List<WeakReference<Object>> weakly =
                objects.stream().<WeakReference<Object>>map(WeakReference::new).toList();
        synchronized (known) {
            known.removeIf(Known::gone);
            known.addFirst(new Known<>(weakly, found));
            if (known.size() > most) {
                known.removeLast();
            }
        }
        return found;
    }
}
