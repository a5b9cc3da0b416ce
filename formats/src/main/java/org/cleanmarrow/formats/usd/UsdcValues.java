package org.cleanmarrow.formats.usd;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/**
 * Values of a binary scene: eight bytes that are the value, or say what kind it is and where it lies. They come out as {@link UsdPrim} has
 * them; arrays of numbers are looked up when they are asked for. What is of no use here comes out as null.
 */
final class UsdcValues {
    private static final long ARRAY = 1L << 63;
    private static final long INLINED = 1L << 62;
    private static final long PACKED = 1L << 61;
    private static final long PAYLOAD = (1L << 48) - 1;
    /** Shorter arrays are never packed. */
    private static final int LEAST_PACKED = 16;

    private static final int DEEPEST = 32;
    /** Samples, entries of dictionaries and words in all; a scene that says more leads round in a ring. */
    private static final long MOST_ENTRIES = 1 << 24;

    /** Numbers of a kind: what each is, how many make one value, and the order in which text has them. */
    private enum Numbers {
        BOOL(1, 'b', 1),
        UCHAR(2, 'b', 1),
        INT(3, 'i', 1),
        UINT(4, 'u', 1),
        INT64(5, 'l', 1),
        UINT64(6, 'l', 1),
        HALF(7, 'h', 1),
        FLOAT(8, 'f', 1),
        DOUBLE(9, 'd', 1),
        MATRIX2D(13, 'd', 4),
        MATRIX3D(14, 'd', 9),
        MATRIX4D(15, 'd', 16),
        QUATD(16, 'd', 4),
        QUATF(17, 'f', 4),
        QUATH(18, 'h', 4),
        VEC2D(19, 'd', 2),
        VEC2F(20, 'f', 2),
        VEC2H(21, 'h', 2),
        VEC2I(22, 'i', 2),
        VEC3D(23, 'd', 3),
        VEC3F(24, 'f', 3),
        VEC3H(25, 'h', 3),
        VEC3I(26, 'i', 3),
        VEC4D(27, 'd', 4),
        VEC4F(28, 'f', 4),
        VEC4H(29, 'h', 4),
        VEC4I(30, 'i', 4),
        TIME_CODE(56, 'd', 1);

        private static final Map<Integer, Numbers> BY_CODE = byCode();

        final int code;
        final char one;
        final int width;

        Numbers(int code, char one, int width) {
            this.code = code;
            this.one = one;
            this.width = width;
        }

        private static Map<Integer, Numbers> byCode() {
            Map<Integer, Numbers> out = new TreeMap<>();
            Arrays.stream(values()).forEach(n -> out.put(n.code, n));
            return out;
        }

        int bytes() {
            return switch (one) {
                case 'b' -> 1;
                case 'h' -> 2;
                case 'i', 'u', 'f' -> 4;
                default -> 8;
            };
        }

        boolean isTurn() {
            return this == QUATD || this == QUATF || this == QUATH;
        }

        boolean isMatrix() {
            return this == MATRIX2D || this == MATRIX3D || this == MATRIX4D;
        }
    }

    private static final int STRING = 10;
    private static final int TOKEN = 11;
    private static final int ASSET = 12;
    private static final int DICTIONARY = 31;
    private static final int TOKENS_LISTED = 32;
    private static final int STRINGS_LISTED = 33;
    private static final int PATHS_LISTED = 34;
    private static final int PATHS = 40;
    private static final int TOKENS = 41;
    private static final int SPECIFIER = 42;
    private static final int VARIABILITY = 44;
    private static final int SAMPLES = 46;
    private static final int DOUBLES = 48;
    private static final int STRINGS = 50;
    private static final int VALUE = 52;

    private final UsdcBytes bytes;
    private final int version;
    private final List<String> tokens;
    private final int[] strings;
    private final List<String> paths;
    private long entries;

    /** @param version minor part of the file's version */
    UsdcValues(UsdcBytes bytes, int version, List<String> tokens, int[] strings, List<String> paths) {
        this.bytes = bytes;
        this.version = version;
        this.tokens = tokens;
        this.strings = strings;
        this.paths = paths;
    }

    String token(long number) throws IOException {
        if (number < 0 || number >= tokens.size()) {
            throw new IOException("there is no word number " + number);
        }
        return tokens.get((int) number);
    }

    private String string(long number) throws IOException {
        if (number < 0 || number >= strings.length) {
            throw new IOException("there is no text number " + number);
        }
        return token(strings[(int) number]);
    }

    private String path(long number) throws IOException {
        if (number < 0 || number >= paths.size() || paths.get((int) number) == null) {
            throw new IOException("there is no path number " + number);
        }
        return paths.get((int) number);
    }

    /** Whether a value is samples over time; {@link #samples} gives them. */
    static boolean isSamples(long rep) {
        return kind(rep) == SAMPLES;
    }

    private static int kind(long rep) {
        return (int) (rep >> 48 & 0xFF);
    }

    @Nullable
    Object value(long rep) throws IOException {
        return value(rep, 0);
    }

    private @Nullable Object value(long rep, int depth) throws IOException {
        if (depth > DEEPEST) {
            throw new IOException("values are nested deeper than " + DEEPEST);
        }
        int kind = kind(rep);
        Numbers numbers = Numbers.BY_CODE.get(kind);
        long payload = rep & PAYLOAD;
        if ((rep & ARRAY) != 0) {
            return numbers != null ? array(rep, numbers) : words(payload, kind);
        }
        if (numbers != null) {
            return (rep & INLINED) != 0
                    ? inlined(numbers, (int) payload)
                    : single(numbers, read(bytes.at(payload), numbers, 1));
        }
        if ((rep & INLINED) != 0) {
            return switch (kind) {
                case STRING -> string(payload);
                case TOKEN, ASSET -> token(payload);
                case SPECIFIER -> payload == 0 ? "def" : payload == 1 ? "over" : "class";
                case VARIABILITY -> payload == 1 ? "uniform" : "varying";
                case DICTIONARY -> Map.of();
                default -> null;
            };
        }
        UsdcBytes.At at = bytes.at(payload);
        return switch (kind) {
            case DICTIONARY -> dictionary(at, depth);
            case TOKENS -> list(at, TOKEN);
            case STRINGS -> list(at, STRING);
            case PATHS -> list(at, PATHS);
            case TOKENS_LISTED -> listed(at, TOKEN);
            case STRINGS_LISTED -> listed(at, STRING);
            case PATHS_LISTED -> listed(at, PATHS);
            case DOUBLES -> read(at, Numbers.DOUBLE, at.count(Double.BYTES));
            case VALUE -> value(at.i64(), depth + 1);
            default -> null;
        };
    }

    /** Times and what is said at each. */
    TreeMap<Double, @Nullable Object> samples(long rep) throws IOException {
        UsdcBytes.At at = bytes.at(rep & PAYLOAD);
        skip(at);
        double[] times = UsdPrim.numbers(value(at.i64()));
        skip(at);
        int count = at.count(Long.BYTES);
        if (count != times.length) {
            throw new IOException("there are " + count + " samples at " + times.length + " times");
        }
        enter(count);
        TreeMap<Double, @Nullable Object> out = new TreeMap<>();
        for (double time : times) {
            Object value = value(at.i64());
            if (Double.isFinite(time)) {
                out.put(time, value);
            }
        }
        return out;
    }

    /** What is told first says how far it is to what comes after it. */
    private void skip(UsdcBytes.At at) throws IOException {
        int from = at.place();
        at.to(from + at.i64());
    }

    private void enter(long more) throws IOException {
        entries += more;
        if (entries > MOST_ENTRIES) {
            throw new IOException("it says more than " + MOST_ENTRIES + " things");
        }
    }

    private Map<String, @Nullable Object> dictionary(UsdcBytes.At at, int depth) throws IOException {
        int count = at.count(20);
        enter(count);
        Map<String, @Nullable Object> out = new LinkedHashMap<>();
        for (int i = 0; i < count; i++) {
            String key = string(at.i32());
            skip(at);
            out.put(key, value(at.i64(), depth + 1));
        }
        return out;
    }

    private List<String> list(UsdcBytes.At at, int kind) throws IOException {
        int count = at.count(Integer.BYTES);
        enter(count);
        List<String> out = new ArrayList<>();
        for (int i = 0; i < count; i++) {
            long number = at.i32() & 0xFFFFFFFFL;
            out.add(kind == TOKEN ? token(number) : kind == PATHS ? path(number) : string(number));
        }
        return out;
    }

    /** What lists add up to where nothing is below them: explicit, added, put before and behind, without what is taken away. */
    private List<String> listed(UsdcBytes.At at, int kind) throws IOException {
        int parts = at.u8();
        List<String> out = new ArrayList<>();
        List<String> behind = new ArrayList<>();
        // In the order of the file: explicit, added, before, behind, deleted, ordered.
        for (int bit : new int[] {1, 2, 5, 6, 3, 4}) {
            if ((parts & 1 << bit) != 0) {
                List<String> own = list(at, kind);
                switch (bit) {
                    case 3 -> out.removeAll(own);
                    case 4 -> {}
                    case 5 -> out.addAll(0, own);
                    case 6 -> behind.addAll(own);
                    default -> out.addAll(own);
                }
            }
        }
        out.addAll(behind);
        return out;
    }

    private Object words(long payload, int kind) throws IOException {
        if (payload == 0) {
            return List.of();
        }
        UsdcBytes.At at = bytes.at(payload);
        int count = length(at, Integer.BYTES);
        enter(count);
        List<String> out = new ArrayList<>();
        for (int i = 0; i < count && (kind == STRING || kind == TOKEN || kind == ASSET); i++) {
            long number = at.i32() & 0xFFFFFFFFL;
            out.add(kind == TOKEN ? token(number) : string(number));
        }
        return out;
    }

    /** How many there are in an array, which earlier versions said otherwise. */
    private int length(UsdcBytes.At at, double leastBytes) throws IOException {
        if (version < 5) {
            at.i32();
        }
        if (version >= 7) {
            return at.count(leastBytes);
        }
        int count = at.i32();
        if (count < 0 || count * leastBytes > bytes.length() - at.place()) {
            throw new IOException("an array is longer than the file: " + count);
        }
        return count;
    }

    private Object array(long rep, Numbers kind) throws IOException {
        long payload = rep & PAYLOAD;
        if (payload == 0) {
            return new double[0];
        }
        boolean packed = (rep & PACKED) != 0 && version >= 5;
        UsdcBytes.At start = bytes.at(payload);
        int count = length(start, packed ? 0 : kind.bytes() * kind.width);
        long place = start.place();
        return new UsdcArray(count * kind.width, () -> {
            UsdcBytes.At at = bytes.at(place);
            return packed && count >= LEAST_PACKED ? unpacked(at, kind, count) : read(at, kind, count);
        });
    }

    private double[] unpacked(UsdcBytes.At at, Numbers kind, int count) throws IOException {
        return switch (kind) {
            case INT -> Arrays.stream(at.ints(count)).asDoubleStream().toArray();
            case UINT ->
                Arrays.stream(at.ints(count))
                        .mapToDouble(Integer::toUnsignedLong)
                        .toArray();
            case INT64, UINT64 ->
                Arrays.stream(at.longs(count)).asDoubleStream().toArray();
            case HALF, FLOAT, DOUBLE -> floats(at, kind, count);
            default -> throw new IOException("an array of a kind that is never packed is");
        };
    }

    /** Numbers that are all whole, or few that come again and again. */
    private static double[] floats(UsdcBytes.At at, Numbers kind, int count) throws IOException {
        int code = at.u8();
        if (code == 'i') {
            return Arrays.stream(at.ints(count)).asDoubleStream().toArray();
        }
        if (code != 't') {
            throw new IOException("an array is packed in a way that is not known: " + code);
        }
        double[] few = read(at, kind, at.i32());
        int[] which = at.ints(count);
        double[] out = new double[count];
        for (int i = 0; i < count; i++) {
            if (which[i] < 0 || which[i] >= few.length) {
                throw new IOException("a packed array names number " + which[i] + " of " + few.length);
            }
            out[i] = few[which[i]];
        }
        return out;
    }

    private static double[] read(UsdcBytes.At at, Numbers kind, int count) throws IOException {
        long all = (long) count * kind.width;
        if (count < 0 || all * kind.bytes() > at.left()) {
            throw new IOException("an array ends too early");
        }
        double[] out = new double[(int) all];
        for (int i = 0; i < out.length; i++) {
            out[i] = switch (kind.one) {
                case 'b' -> at.u8();
                case 'h' -> at.f16();
                case 'i' -> at.i32();
                case 'u' -> Integer.toUnsignedLong(at.i32());
                case 'f' -> at.f32();
                case 'l' -> at.i64();
                default -> at.f64();
            };
            if (!Double.isFinite(out[i])) {
                throw new IOException("expected finite numbers, found " + out[i]);
            }
        }
        if (kind.isTurn()) {
            // The real part lies last, and text has it first.
            for (int q = 0; q < out.length; q += 4) {
                double real = out[q + 3];
                System.arraycopy(out, q, out, q + 1, 3);
                out[q] = real;
            }
        }
        return out;
    }

    private static Object single(Numbers kind, double[] values) {
        return kind == Numbers.BOOL ? (Object) (values[0] != 0) : kind.width == 1 ? (Object) values[0] : values;
    }

    /** Values of four bytes: small ones as they are, tuples of small whole numbers a byte each, matrices by their diagonal. */
    private static Object inlined(Numbers kind, int bits) throws IOException {
        if (kind.width > 1) {
            int side = kind.isMatrix() ? (int) Math.sqrt(kind.width) : kind.width;
            double[] out = new double[kind.width];
            for (int i = 0; i < side; i++) {
                out[kind.isMatrix() ? i * side + i : i] = (byte) (bits >> 8 * i);
            }
            return out;
        }
        double one = switch (kind) {
            case BOOL, UCHAR -> bits & 0xFF;
            case INT, INT64 -> bits;
            case UINT, UINT64 -> Integer.toUnsignedLong(bits);
            case HALF -> Float.float16ToFloat((short) bits);
            default -> Float.intBitsToFloat(bits);
        };
        if (!Double.isFinite(one)) {
            throw new IOException("expected a finite number, found " + one);
        }
        return single(kind, new double[] {one});
    }
}
