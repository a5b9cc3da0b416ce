package org.cleanmarrow.formats.collada;

import java.util.Arrays;
import java.util.Map;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.xml.XmlNode;
import org.jspecify.annotations.Nullable;

/**
 * The curve of a sampler (COLLADA 1.4.1, sampler and chapter "Curve Interpolation"): STEP, LINEAR, BEZIER and HERMITE
 * between keys; other kinds are taken as LINEAR. Outside its keys the first or last value holds.
 */
final class DaeCurve {
    private final float[] times;
    private final float[] values;
    private final int width;
    private final String @Nullable [] kinds;
    private final @Nullable DaeSource into;
    private final @Nullable DaeSource out;

    private DaeCurve(
            float[] times,
            float[] values,
            int width,
            String @Nullable [] kinds,
            @Nullable DaeSource into,
            @Nullable DaeSource out) {
        this.times = times;
        this.values = values;
        this.width = width;
        this.kinds = kinds;
        this.into = into;
        this.out = out;
    }

    static DaeCurve read(XmlNode sampler, Map<String, XmlNode> ids) throws ReadFailed {
        DaeSource input = null;
        DaeSource output = null;
        DaeSource into = null;
        DaeSource out = null;
        String[] kinds = null;
        for (XmlNode one : sampler.all("input")) {
            switch (one.get("semantic")) {
                case "INPUT" -> input = DaeSource.of(one, ids);
                case "OUTPUT" -> output = DaeSource.of(one, ids);
                case "IN_TANGENT" -> into = DaeSource.of(one, ids);
                case "OUT_TANGENT" -> out = DaeSource.of(one, ids);
                case "INTERPOLATION" -> kinds = DaeSource.of(one, ids).names();
                default -> {
                    // What exporters add beside the standard.
                }
            }
        }
        float[] values = output == null ? null : output.values();
        if (input == null
                || input.values() == null
                || output == null
                || values == null
                || input.count() == 0
                || output.count() < input.count()) {
            throw sampler.wrong("expected inputs INPUT and OUTPUT with a value for every time");
        }
        float[] times = input.width() == 1 ? input.values() : null;
        for (int k = 1; times != null && k < times.length; k++) {
            if (times[k] <= times[k - 1]) {
                times = null;
            }
        }
        if (times == null) {
            throw sampler.wrong("expected times that rise from key to key");
        }
        return new DaeCurve(times, values, output.width(), kinds, into, out);
    }

    float[] times() {
        return times;
    }

    int width() {
        return width;
    }

    /** True where nothing but steps or straight lines is between the keys. */
    boolean isStraight() {
        return kinds == null || Arrays.stream(kinds).noneMatch(k -> k.equals("BEZIER") || k.equals("HERMITE"));
    }

    boolean isStepped() {
        return kinds != null && kinds.length > 0 && Arrays.stream(kinds).allMatch("STEP"::equals);
    }

    /** Largest difference of a value from one key to the next. */
    double largestStep() {
        double most = 0;
        for (int i = width; i < times.length * width; i++) {
            most = Math.max(most, Math.abs(values[i] - values[i - width]));
        }
        return most;
    }

    /** One number of the value at a time. */
    double at(double seconds, int component) {
        int key = Arrays.binarySearch(times, (float) seconds);
        key = key >= 0 ? key : -key - 2;
        if (key < 0) {
            return values[component];
        }
        double a = values[key * width + component];
        if (key == times.length - 1) {
            return a;
        }
        double b = values[(key + 1) * width + component];
        double span = (double) times[key + 1] - times[key];
        double u = (seconds - times[key]) / span;
        String kind = kinds == null || key >= kinds.length ? "LINEAR" : kinds[key];
        return switch (kind) {
            case "STEP" -> a;
            case "BEZIER", "HERMITE" -> bent(key, component, a, b, u, span, kind.equals("HERMITE"));
            default -> a + u * (b - a);
        };
    }

    private double bent(int key, int component, double a, double b, double u, double span, boolean hermite) {
        double[] first = control(out, key, component);
        double[] second = control(into, key + 1, component);
        if (first == null || second == null) {
            return a + u * (b - a);
        }
        // Control points as shares of the span and as values.
        double x1 = (first[0] - times[key]) / span;
        double x2 = (second[0] - times[key]) / span;
        double y1 = first[1];
        double y2 = second[1];
        if (hermite) {
            // Tangents, a third of which leads to the control points of the same curve.
            x1 = first.length > 2 ? 1 / 3.0 : first[0] / span / 3;
            x2 = second.length > 2 ? 2 / 3.0 : 1 - second[0] / span / 3;
            y1 = a + first[1] / 3;
            y2 = b - second[1] / 3;
        } else if (first.length > 2) {
            x1 = 1 / 3.0;
            x2 = 2 / 3.0;
        }
        double s = solve(Math.clamp(x1, 0, 1), Math.clamp(x2, 0, 1), u);
        double r = 1 - s;
        return r * r * r * a + 3 * r * r * s * y1 + 3 * r * s * s * y2 + s * s * s * b;
    }

    /** Time and value of a tangent; a third number where the file gives values alone. */
    private double @Nullable [] control(@Nullable DaeSource tangents, int key, int component) {
        if (tangents == null || tangents.values() == null || key >= tangents.count()) {
            return null;
        }
        int at = key * tangents.width();
        if (tangents.width() == 2 * width) {
            return new double[] {tangents.values()[at + 2 * component], tangents.values()[at + 2 * component + 1]};
        }
        return tangents.width() == width ? new double[] {0, tangents.values()[at + component], 1} : null;
    }

    /** Where on the curve the time is: x rises with s, because both control points lie within the span. */
    private static double solve(double x1, double x2, double x) {
        double low = 0;
        double high = 1;
        double s = x;
        for (int i = 0; i < 60 && high - low > 1e-12; i++) {
            double r = 1 - s;
            double at = 3 * r * r * s * x1 + 3 * r * s * s * x2 + s * s * s;
            if (at < x) {
                low = s;
            } else {
                high = s;
            }
            s = (low + high) / 2;
        }
        return s;
    }
}
