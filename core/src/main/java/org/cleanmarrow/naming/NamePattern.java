package org.cleanmarrow.naming;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A pattern of names in which {@code *} stands for any run of characters and {@code ?} for one; several are divided by
 * commas, and any of them may fit. Upper and lower case are different.
 */
public final class NamePattern {
    private final List<Pattern> any = new ArrayList<>();

    public NamePattern(String text) {
        for (String one : text.split(",")) {
            if (!one.isBlank()) {
                any.add(compiled(one.strip()));
            }
        }
    }

    private static Pattern compiled(String one) {
        StringBuilder regex = new StringBuilder();
        for (char c : one.toCharArray()) {
            regex.append(c == '*' ? "(.*)" : c == '?' ? "(.)" : Pattern.quote(String.valueOf(c)));
        }
        return Pattern.compile(regex.toString(), Pattern.DOTALL);
    }

    public boolean fits(String name) {
        return any.stream().anyMatch(p -> p.matcher(name).matches());
    }

    /**
     * The name with what the pattern's signs stand for put in place of the signs of another, in order; empty where it
     * does not fit.
     */
    public Optional<String> replaced(String name, String by) {
        for (Pattern pattern : any) {
            Matcher found = pattern.matcher(name);
            if (found.matches()) {
                StringBuilder out = new StringBuilder();
                int next = 1;
                for (char c : by.toCharArray()) {
                    boolean sign = (c == '*' || c == '?') && next <= found.groupCount();
                    out.append(sign ? found.group(next++) : String.valueOf(c));
                }
                return Optional.of(out.toString());
            }
        }
        return Optional.empty();
    }
}
