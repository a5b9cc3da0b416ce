package org.cleanmarrow.formats.gltf;

import java.nio.ByteBuffer;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.model.Storage;
import org.jspecify.annotations.Nullable;

/**
 * Decodes accessors: every component type, normalised integers, interleaved views, sparse values, matrix
 * columns with their padding (glTF 2.0, 3.6.2). No length is trusted: an accessor must lie within its view, a
 * view within its buffer, and all decoded numbers together within a budget that follows from the file's size.
 *
 * <p>Each accessor is decoded once, so that what shared it in the file shares its array here.
 */
final class Accessors {
    private static final int MAT2 = 104;
    private static final int MAT3 = 109;
    private static final int MAT4 = 116;
    private static final Map<String, Integer> WIDTHS =
            Map.of("SCALAR", 1, "VEC2", 2, "VEC3", 3, "VEC4", 4, "MAT2", MAT2, "MAT3", MAT3, "MAT4", MAT4);

    private final List<JsonCursor> accessors;
    private final List<JsonCursor> views;
    private final List<ByteBuffer> buffers;
    private final Map<Integer, float[]> floats = new HashMap<>();
    private final Map<Integer, int[]> wholes = new HashMap<>();
    private long budget;

    /** @param budget numbers that may be decoded in all */
    Accessors(List<JsonCursor> accessors, List<JsonCursor> views, List<ByteBuffer> buffers, long budget) {
        this.accessors = accessors;
        this.views = views;
        this.buffers = buffers;
        this.budget = budget;
    }

    int size() {
        return accessors.size();
    }

    private record View(ByteBuffer bytes, int stride) {}

    private record Form(int width, int component, boolean normalised, int count) {
        int elementBytes() {
            int size = componentBytes(component);
            return switch (width) {
                // Columns of matrices start on multiples of four bytes.
                case MAT2 -> 2 * pad(2 * size);
                case MAT3 -> 3 * pad(3 * size);
                case MAT4 -> 4 * pad(4 * size);
                default -> width * size;
            };
        }

        int numbers() {
            return width == MAT2 ? 4 : width == MAT3 ? 9 : width == MAT4 ? 16 : width;
        }

        /** Byte offset of a number within an element. */
        int offset(int number) {
            int size = componentBytes(component);
            int rows = width == MAT2 ? 2 : width == MAT3 ? 3 : width == MAT4 ? 4 : 0;
            return rows == 0 ? number * size : number / rows * pad(rows * size) + number % rows * size;
        }

        private static int pad(int bytes) {
            return (bytes + 3) & ~3;
        }
    }

    static int componentBytes(int component) {
        return switch (component) {
            case 5120, 5121 -> 1;
            case 5122, 5123 -> 2;
            default -> 4;
        };
    }

    int count(int accessor) throws ReadFailed {
        return form(accessor).count;
    }

    /** Numbers an element: 1 to 4, or 4, 9, 16 for matrices. */
    int width(int accessor) throws ReadFailed {
        return form(accessor).numbers();
    }

    Storage storage(int accessor) throws ReadFailed {
        Form form = form(accessor);
        return switch (form.component) {
            case 5120 -> form.normalised ? Storage.BYTE_NORMALISED : Storage.BYTE;
            case 5121 -> form.normalised ? Storage.UNSIGNED_BYTE_NORMALISED : Storage.UNSIGNED_BYTE;
            case 5122 -> form.normalised ? Storage.SHORT_NORMALISED : Storage.SHORT;
            case 5123 -> form.normalised ? Storage.UNSIGNED_SHORT_NORMALISED : Storage.UNSIGNED_SHORT;
            case 5125 -> Storage.UNSIGNED_INT;
            default -> Storage.FLOAT;
        };
    }

    private Form form(int accessor) throws ReadFailed {
        JsonCursor at = accessors.get(accessor);
        Integer width = WIDTHS.get(at.text("type", ""));
        if (width == null) {
            throw at.wrong("type", "expected SCALAR, VEC2, VEC3, VEC4, MAT2, MAT3 or MAT4");
        }
        int component = component(at);
        int count = at.number("count", 0, 1, Integer.MAX_VALUE);
        if (count < 1) {
            throw at.wrong("count", "expected at least 1");
        }
        return new Form(width, component, at.flag("normalized"), count);
    }

    private static int component(JsonCursor at) throws ReadFailed {
        int component = at.number("componentType", 0, 0, 65535);
        if (component < 5120 || component > 5126 || component == 5124) {
            throw at.wrong("componentType", "expected 5120 to 5123, 5125 or 5126, found " + component);
        }
        return component;
    }

    private View view(JsonCursor at, int index, int elementBytes, long offset, int count) throws ReadFailed {
        JsonCursor v = views.get(index);
        int buffer = v.required("buffer", buffers.size(), "buffers");
        int from = v.number("byteOffset", 0, 0, Integer.MAX_VALUE);
        int length = v.number("byteLength", 0, 1, Integer.MAX_VALUE);
        int stride = v.number("byteStride", elementBytes, 1, 252);
        ByteBuffer bytes = buffers.get(buffer);
        if ((long) from + length > bytes.limit()) {
            throw v.wrong(
                    "byteLength", "reaches to byte " + ((long) from + length) + " of a buffer of " + bytes.limit());
        }
        long end = offset + (count - 1L) * stride + elementBytes;
        if (end > length) {
            throw at.wrong("count", "needs " + end + " bytes, its buffer view has " + length);
        }
        ByteBuffer slice =
                bytes.slice((int) (from + offset), (int) (length - offset)).order(bytes.order());
        return new View(slice, stride);
    }

    /** The bytes of an accessor, checked to be there; null where all its numbers are zero. */
    @Nullable
    private View view(JsonCursor at, Form form) throws ReadFailed {
        int index = at.index("bufferView", views.size(), "buffer views");
        int offset = at.number("byteOffset", 0, 0, Integer.MAX_VALUE);
        return index < 0 ? null : view(at, index, form.elementBytes(), offset, form.count);
    }

    private void spend(JsonCursor at, long numbers) throws ReadFailed {
        budget -= numbers;
        if (budget < 0) {
            throw at.wrong("count", "asks for more numbers than a file of this size can hold");
        }
    }

    /** All numbers of an accessor as floats, normalised integers as 0..1 or -1..1. */
    float[] floats(int accessor) throws ReadFailed {
        float[] known = floats.get(accessor);
        if (known != null) {
            return known;
        }
        JsonCursor at = accessors.get(accessor);
        Form form = form(accessor);
        View view = view(at, form);
        spend(at, (long) form.count * form.numbers());
        float[] out = new float[form.count * form.numbers()];
        if (view != null) {
            decode(view, form, out);
        }
        if (at.has("sparse")) {
            sparse(at.at("sparse"), form, out);
        }
        floats.put(accessor, out);
        return out;
    }

    /** The bytes of an accessor that is float32, three an element, in a row as they stand; null where it is anything else. */
    @Nullable
    ByteBuffer straight(int accessor) throws ReadFailed {
        JsonCursor at = accessors.get(accessor);
        Form form = form(accessor);
        int element = 3 * Float.BYTES;
        if (form.component != 5126 || form.width != 3 || at.has("sparse")) {
            return null;
        }
        View view = view(at, form);
        return view == null || view.stride != element ? null : view.bytes.slice(0, form.count * element);
    }

    private static void decode(View view, Form form, float[] out) {
        int numbers = form.numbers();
        ByteBuffer b = view.bytes;
        if (form.component == 5126 && view.stride == numbers * 4 && form.width < 100) {
            b.asFloatBuffer().get(out);
            return;
        }
        for (int e = 0; e < form.count; e++) {
            for (int i = 0; i < numbers; i++) {
                out[e * numbers + i] = number(b, e * view.stride + form.offset(i), form);
            }
        }
    }

    private static float number(ByteBuffer b, int at, Form form) {
        return switch (form.component) {
            case 5120 -> form.normalised ? Math.max(b.get(at) / 127f, -1) : b.get(at);
            case 5121 -> form.normalised ? (b.get(at) & 255) / 255f : b.get(at) & 255;
            case 5122 -> form.normalised ? Math.max(b.getShort(at) / 32767f, -1) : b.getShort(at);
            case 5123 -> form.normalised ? (b.getShort(at) & 65535) / 65535f : b.getShort(at) & 65535;
            case 5125 -> Integer.toUnsignedLong(b.getInt(at));
            default -> b.getFloat(at);
        };
    }

    private void sparse(JsonCursor sparse, Form form, float[] out) throws ReadFailed {
        int count = sparse.number("count", 0, 1, form.count);
        int[] at = sparseIndices(sparse.at("indices"), count, form.count);
        JsonCursor values = sparse.at("values");
        int index = values.required("bufferView", views.size(), "buffer views");
        int offset = values.number("byteOffset", 0, 0, Integer.MAX_VALUE);
        View view = view(values, index, form.elementBytes(), offset, count);
        float[] changed = new float[count * form.numbers()];
        decode(view, new Form(form.width, form.component, form.normalised, count), changed);
        for (int i = 0; i < count; i++) {
            System.arraycopy(changed, i * form.numbers(), out, at[i] * form.numbers(), form.numbers());
        }
    }

    private int[] sparseIndices(JsonCursor at, int count, int elements) throws ReadFailed {
        int component = component(at);
        int index = at.required("bufferView", views.size(), "buffer views");
        int offset = at.number("byteOffset", 0, 0, Integer.MAX_VALUE);
        Form form = new Form(1, component, false, count);
        View view = view(at, index, form.elementBytes(), offset, count);
        int[] out = new int[count];
        for (int i = 0; i < count; i++) {
            long value = whole(view.bytes, i * view.stride, component);
            if (value >= elements || i > 0 && value <= out[i - 1]) {
                throw at.wrong("", "expected rising numbers below " + elements + ", found " + value);
            }
            out[i] = (int) value;
        }
        return out;
    }

    private static long whole(ByteBuffer b, int at, int component) {
        return switch (component) {
            case 5121 -> b.get(at) & 255;
            case 5123 -> b.getShort(at) & 65535;
            case 5125 -> Integer.toUnsignedLong(b.getInt(at));
            default -> -1;
        };
    }

    /**
     * Unsigned whole numbers, such as indices and joints.
     *
     * @param limit every number must be below it
     */
    int[] wholes(int accessor, long limit, String ofWhat) throws ReadFailed {
        JsonCursor at = accessors.get(accessor);
        int[] out = wholes.get(accessor);
        if (out == null) {
            out = decodeWholes(accessor, at);
            wholes.put(accessor, out);
        }
        for (int i = 0; i < out.length; i++) {
            if (Integer.toUnsignedLong(out[i]) >= limit) {
                throw at.wrong(
                        "[" + i + "]",
                        "there are " + limit + " " + ofWhat + ", and this names number "
                                + Integer.toUnsignedString(out[i]));
            }
        }
        return out;
    }

    private int[] decodeWholes(int accessor, JsonCursor at) throws ReadFailed {
        Form form = form(accessor);
        if (form.component != 5121 && form.component != 5123 && form.component != 5125 || form.normalised) {
            throw at.wrong("componentType", "expected an unsigned whole number type");
        }
        View view = view(at, form);
        spend(at, (long) form.count * form.numbers());
        int[] out = new int[form.count * form.numbers()];
        if (view != null) {
            for (int e = 0; e < form.count; e++) {
                for (int i = 0; i < form.numbers(); i++) {
                    out[e * form.numbers() + i] =
                            (int) whole(view.bytes, e * view.stride + form.offset(i), form.component);
                }
            }
        }
        if (at.has("sparse")) {
            float[] patched = new float[out.length];
            for (int i = 0; i < out.length; i++) {
                patched[i] = out[i];
            }
            sparse(at.at("sparse"), form, patched);
            for (int i = 0; i < out.length; i++) {
                out[i] = (int) patched[i];
            }
        }
        return out;
    }
}
