package org.cleanmarrow.naming;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Words in names that say which side something is on: {@code left}, {@code right} in any case and anywhere between
 * other words, and {@code l}, {@code r} where they stand apart ({@code l_hand}, {@code hand.L}, {@code hand_l_2}).
 */
public final class SideWords {
    private static final List<String[]> WORDS = List.of(new String[] {"left", "right"}, new String[] {"l", "r"});
    /** Whole words apart from letters, or capitalised within a run such as {@code LeftArm}. */
    private static final Pattern WHOLE = Pattern.compile(
            "(?<![A-Za-z])(?i:left|right)(?![a-z])|(?<![A-Z])(?:Left|Right)(?![a-z])|(?<![A-Za-z])(?i:[lr])(?![A-Za-z])");

    private SideWords() {}

    /** Which side a name says: +1 left, -1 right, 0 neither. */
    public static int sideOf(String name) {
        Matcher found = WHOLE.matcher(name);
        if (!found.find()) {
            return 0;
        }
        return Character.toLowerCase(found.group().charAt(0)) == 'l' ? 1 : -1;
    }

    /** The name of the other side's twin, in the same case; empty where the name says no side. */
    public static Optional<String> swapped(String name) {
        Matcher found = WHOLE.matcher(name);
        if (!found.find()) {
            return Optional.empty();
        }
        String word = found.group();
        String twin = word;
        for (String[] pair : WORDS) {
            for (int i = 0; i < 2; i++) {
                if (word.equalsIgnoreCase(pair[i])) {
                    twin = inCaseOf(word, pair[1 - i]);
                }
            }
        }
        return Optional.of(name.substring(0, found.start()) + twin + name.substring(found.end()));
    }

    private static String inCaseOf(String like, String word) {
        if (like.equals(like.toUpperCase(Locale.ROOT))) {
            return word.toUpperCase(Locale.ROOT);
        }
        return Character.isUpperCase(like.charAt(0)) ? Character.toUpperCase(word.charAt(0)) + word.substring(1) : word;
    }
}
