package org.cleanmarrow.convention;

import java.util.Locale;
import java.util.OptionalDouble;

/**
 * Reads numbers as people type them: {@code 182cm}, {@code 6ft}, {@code 5 ft 9 in}, {@code 1.82 m}, and simple sums
 * of such with {@code + - * /} and brackets. A comma serves as the decimal point too.
 *
 * <p>Grammar: sum = product (("+" | "-") product)*, product = factor (("*" | "/") factor)*, factor = "-" factor |
 * "(" sum ")" | measure+, measure = number unit?. Measures beside each other are added: feet and inches. Lengths are not
 * multiplied with each other.
 */
public final class Lengths {
    /** Longer text is no number that a person typed. */
    private static final int LONGEST = 120;

    private final String text;
    private final double plainUnit;
    private int at;

    private Lengths(String text, double plainUnit) {
        this.text = text.strip().toLowerCase(Locale.ROOT).replace(',', '.');
        this.plainUnit = plainUnit;
    }

    /**
     * A length in metres.
     *
     * @param metresPerUnit what a number without a unit is in
     * @return empty where the text is no length, or not finite
     */
    public static OptionalDouble metres(String text, double metresPerUnit) {
        return new Lengths(text, metresPerUnit).whole(true);
    }

    /** A plain number or sum of numbers, without units; empty where the text is none. */
    public static OptionalDouble number(String text) {
        return new Lengths(text, 1).whole(false);
    }

    /** @param length true once a unit was named; a plain number may still become one */
    private record Value(double value, boolean length) {}

    private OptionalDouble whole(boolean units) {
        if (text.isEmpty() || text.length() > LONGEST) {
            return OptionalDouble.empty();
        }
        try {
            double value = inMetres(sum(units));
            blanks();
            return at == text.length() && Double.isFinite(value) ? OptionalDouble.of(value) : OptionalDouble.empty();
        } catch (NumberFormatException e) {
            return OptionalDouble.empty();
        }
    }

    private double inMetres(Value v) {
        return v.length ? v.value : v.value * plainUnit;
    }

    private Value sum(boolean units) {
        Value value = product(units);
        while (true) {
            double sign = take('+') ? 1 : take('-') ? -1 : 0;
            if (sign == 0) {
                return value;
            }
            Value more = product(units);
            value = value.length || more.length
                    ? new Value(inMetres(value) + sign * inMetres(more), true)
                    : new Value(value.value + sign * more.value, false);
        }
    }

    private Value product(boolean units) {
        Value value = factor(units);
        while (true) {
            boolean times = take('*');
            if (!times && !take('/')) {
                return value;
            }
            Value by = factor(units);
            if (by.length && (value.length || !times)) {
                throw new NumberFormatException("an area, or one over a length");
            }
            value = new Value(times ? value.value * by.value : value.value / by.value, value.length || by.length);
        }
    }

    private Value factor(boolean units) {
        if (take('-')) {
            Value value = factor(units);
            return new Value(-value.value, value.length);
        }
        if (take('(')) {
            Value value = sum(units);
            if (!take(')')) {
                throw new NumberFormatException("a bracket is open");
            }
            return value;
        }
        Value value = measure(units);
        while (value.length && startsNumber()) {
            value = new Value(value.value + inMetres(measure(true)), true);
        }
        return value;
    }

    private boolean startsNumber() {
        blanks();
        return at < text.length() && (Character.isDigit(text.charAt(at)) || text.charAt(at) == '.');
    }

    private Value measure(boolean units) {
        blanks();
        int from = at;
        while (at < text.length() && (Character.isDigit(text.charAt(at)) || text.charAt(at) == '.')) {
            at++;
        }
        double number = Double.parseDouble(text.substring(from, at));
        blanks();
        from = at;
        while (units && at < text.length() && Character.isLetter(text.charAt(at))) {
            at++;
        }
        return from == at
                ? new Value(number, false)
                : new Value(
                        number * Units.metresPer(text.substring(from, at)).orElseThrow(NumberFormatException::new),
                        true);
    }

    private boolean take(char wanted) {
        blanks();
        if (at < text.length() && text.charAt(at) == wanted) {
            at++;
            return true;
        }
        return false;
    }

    private void blanks() {
        while (at < text.length() && Character.isWhitespace(text.charAt(at))) {
            at++;
        }
    }
}
