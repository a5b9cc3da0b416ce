package org.cleanmarrow.naming;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A pattern of names in which {@code *} stands for any run of characters and {@code ?} for one; several are divided by
 * commas, and any of them may fit; a sign after a backslash stands for itself. Upper and lower case are different.
 */
public final class NamePattern {
    private final List<Pattern> any = new ArrayList<>();

    public NamePattern(String text) {
        StringBuilder regex = new StringBuilder();
        StringBuilder blanks = new StringBuilder();
        boolean escaped = false;
        for (int c : text.codePoints().toArray()) {
            if (!escaped && c == '\\') {
                escaped = true;
            } else if (!escaped && c == ',') {
                end(regex);
                blanks.setLength(0);
            } else if (!escaped && Character.isWhitespace(c)) {
                // Blanks beside a comma are no part of a name, those within one are.
                blanks.appendCodePoint(c);
            } else {
                if (!regex.isEmpty() && !blanks.isEmpty()) {
                    regex.append(Pattern.quote(blanks.toString()));
                }
                blanks.setLength(0);
                boolean sign = !escaped && (c == '*' || c == '?');
                regex.append(sign ? c == '*' ? "(.*)" : "(.)" : Pattern.quote(Character.toString(c)));
                escaped = false;
            }
        }
        end(regex);
    }

    private void end(StringBuilder regex) {
        if (!regex.isEmpty()) {
            any.add(Pattern.compile(regex.toString(), Pattern.DOTALL));
            regex.setLength(0);
        }
    }

    /** The patterns of a text one by one, divided at the commas that no backslash takes their meaning from. */
    public static List<NamePattern> each(String text) {
        List<NamePattern> out = new ArrayList<>();
        boolean escaped = false;
        int from = 0;
        for (int i = 0; i <= text.length(); i++) {
            if (i == text.length() || !escaped && text.charAt(i) == ',') {
                if (!text.substring(from, i).isBlank()) {
                    out.add(new NamePattern(text.substring(from, i)));
                }
                from = i + 1;
            } else {
                escaped = !escaped && text.charAt(i) == '\\';
            }
        }
        return out;
    }

    /** The pattern that fits one name and no other, whatever signs are in it. */
    public static String exactly(String name) {
        return name.replaceAll("([\\\\*?,\\s\\p{Z}\\p{Cntrl}])", "\\\\$1");
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

    /** What all of some names begin with; empty for none. */
    public static String commonPrefix(List<String> names) {
        String out = names.isEmpty() ? "" : names.getFirst();
        for (String name : names) {
            int same = 0;
            while (same < Math.min(out.length(), name.length()) && out.charAt(same) == name.charAt(same)) {
                same++;
            }
            out = out.substring(0, same);
        }
        return out;
    }
}
