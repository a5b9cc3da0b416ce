package org.cleanmarrow.desktop.desk;

import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.function.BiFunction;
import java.util.function.Function;
import java.util.function.UnaryOperator;
import javafx.beans.property.ObjectProperty;
import javafx.beans.property.ReadOnlyObjectProperty;
import javafx.beans.property.SimpleObjectProperty;

/**
 * An immutable value that is replaced as a whole, and properties that show parts of it. To set such a property is to replace the
 * whole; and whoever hears that a part is another finds all others as they are by then: no property can say something that was true
 * only before, or will be soon. Lives on the interface thread.
 *
 * @param <S> the value
 */
final class Whole<S> {
    private final List<Part<S, ?>> parts = new ArrayList<>();
    private final Runnable changed;
    private S now;

    /** @param changed called after every change, when all parts have said theirs */
    Whole(S first, Runnable changed) {
        now = first;
        this.changed = changed;
    }

    S now() {
        return now;
    }

    void become(S next) {
        if (next != now) {
            now = next;
            parts.forEach(Part::follow);
            changed.run();
        }
    }

    void change(UnaryOperator<S> how) {
        become(how.apply(now));
    }

    /** A part that can be set; to what it is already, changes nothing. Parts say that they changed in the order in which they were asked for here. */
    <T> ObjectProperty<T> part(Function<S, T> of, BiFunction<S, T, S> with) {
        Part<S, T> part = new Part<>(this, of, with);
        parts.add(part);
        return part;
    }

    /** A part that changes with the whole alone. */
    <T> ReadOnlyObjectProperty<T> part(Function<S, T> of) {
        return part(of, (whole, value) -> whole);
    }

    private static final class Part<S, T> extends SimpleObjectProperty<T> {
        private final Whole<S> whole;
        private final Function<S, T> of;
        private final BiFunction<S, T, S> with;

        Part(Whole<S> whole, Function<S, T> of, BiFunction<S, T, S> with) {
            super(of.apply(whole.now));
            this.whole = whole;
            this.of = of;
            this.with = with;
        }

        @Override
        public T get() {
            // Who asks has heard of it: the next change is told again.
            super.get();
            return of.apply(whole.now);
        }

        @Override
        public void set(T value) {
            if (!Objects.equals(value, of.apply(whole.now))) {
                whole.become(with.apply(whole.now, value));
            }
        }

        void follow() {
            super.set(of.apply(whole.now));
        }
    }
}
