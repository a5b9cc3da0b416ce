package org.cleanmarrow.model;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;

/**
 * New numbers for what an asset lists, by kind. A number below zero means that the thing goes; the same number for several
 * that the first of them stands for all. Kinds of which nothing is said keep their numbers.
 *
 * <p>Immutable. Cost: an int a thing of the kinds that change.
 */
public final class Renumbering {
    /** What is referred to by number. */
    public enum Kind {
        NODE,
        MESH,
        SKIN,
        MATERIAL,
        TEXTURE,
        IMAGE,
        CAMERA
    }

    public static final Renumbering NONE = new Renumbering(Map.of());

    private final Map<Kind, int[]> numbers;

    private Renumbering(Map<Kind, int[]> numbers) {
        this.numbers = numbers;
    }

    /** @param newNumbers for every old number of the kind the new one, or -1 */
    public Renumbering with(Kind kind, int[] newNumbers) {
        Map<Kind, int[]> all = new EnumMap<>(Kind.class);
        all.putAll(numbers);
        all.put(kind, newNumbers.clone());
        return new Renumbering(all);
    }

    /** Those in the set keep their order under new numbers, the others go. */
    public Renumbering keeping(Kind kind, BitSet kept, int count) {
        int[] out = new int[count];
        int next = 0;
        for (int i = 0; i < count; i++) {
            out[i] = kept.get(i) ? next++ : -1;
        }
        return with(kind, out);
    }

    /** All numbers of a kind moved up, as when a list is put behind another. */
    public Renumbering behind(Kind kind, int count, int by) {
        int[] out = new int[count];
        Arrays.setAll(out, i -> i + by);
        return with(kind, out);
    }

    /** Each thing under the number of one that stands for it; those that stand for none go. */
    public Renumbering sharing(Kind kind, int[] first) {
        BitSet kept = new BitSet();
        for (int i = 0; i < first.length; i++) {
            kept.set(first[i]);
        }
        Renumbering own = NONE.keeping(kind, kept, first.length);
        return with(kind, Arrays.stream(first).map(i -> own.of(kind, i)).toArray());
    }

    /** The new number of a thing, -1 where it goes or was none. */
    public int of(Kind kind, int number) {
        int[] all = numbers.get(kind);
        if (number < 0 || all == null) {
            return number;
        }
        return number < all.length ? all[number] : -1;
    }

    /** New numbers of several, without those that go. */
    public int[] of(Kind kind, int[] some) {
        return numbers.containsKey(kind)
                ? Arrays.stream(some).map(n -> of(kind, n)).filter(n -> n >= 0).toArray()
                : some;
    }

    /** What is said of one kind alone. */
    Renumbering only(Kind kind) {
        int[] number = numbers.get(kind);
        return number == null ? NONE : NONE.with(kind, number);
    }

    /** What is said of all other kinds. */
    Renumbering without(Kind kind) {
        Map<Kind, int[]> others = new EnumMap<>(Kind.class);
        others.putAll(numbers);
        others.remove(kind);
        return new Renumbering(others);
    }

    public boolean changes(Kind kind) {
        int[] all = numbers.get(kind);
        return all != null && !isCounting(all);
    }

    /** A list in its new order. */
    <T> List<T> list(Kind kind, List<T> all) {
        int[] number = numbers.get(kind);
        if (number == null || isCounting(number)) {
            return all;
        }
        List<T> out = new ArrayList<>();
        int[] from = new int[all.size()];
        Arrays.fill(from, -1);
        int count = 0;
        for (int i = 0; i < number.length; i++) {
            if (number[i] >= 0 && from[number[i]] < 0) {
                from[number[i]] = i;
                count = Math.max(count, number[i] + 1);
            }
        }
        for (int i = 0; i < count; i++) {
            out.add(all.get(from[i]));
        }
        return out;
    }

    static boolean isCounting(int[] numbers) {
        for (int i = 0; i < numbers.length; i++) {
            if (numbers[i] != i) {
                return false;
            }
        }
        return true;
    }
}
