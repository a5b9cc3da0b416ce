package org.cleanmarrow.formats.gltf;

import java.io.ByteArrayOutputStream;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.IdentityHashMap;
import java.util.Map;
import org.cleanmarrow.model.Storage;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

/** Collects the binary data of a document: one buffer, one view an accessor, arrays that are shared written once. */
final class BufferWriter {
    private static final int ARRAY_BUFFER = 34962;
    private static final int ELEMENT_ARRAY_BUFFER = 34963;
    private static final String[] TYPES = {"", "SCALAR", "VEC2", "VEC3", "VEC4"};

    private final ByteArrayOutputStream bytes = new ByteArrayOutputStream();
    private final ArrayNode views = JsonNodeFactory.instance.arrayNode();
    private final ArrayNode accessors = JsonNodeFactory.instance.arrayNode();
    private final Map<Object, Integer> written = new IdentityHashMap<>();

    /** What an accessor is for, which decides its view's target and whether bounds are stated. */
    enum Use {
        VERTEX,
        BOUNDED_VERTEX,
        INDEX,
        KEYS,
        PLAIN
    }

    ArrayNode views() {
        return views;
    }

    ArrayNode accessors() {
        return accessors;
    }

    byte[] bytes() {
        return bytes.toByteArray();
    }

    /** Writes floats in the given storage; the same array is written once. */
    int floats(float[] values, int width, Storage storage, Use use) {
        Integer known = written.get(values);
        if (known != null) {
            return known;
        }
        int count = values.length / (width == 16 ? 16 : width);
        int size = size(storage);
        int element = width * size;
        // Vertex attributes start on multiples of four bytes (glTF 2.0, 3.6.2.4).
        boolean vertex = use == Use.VERTEX || use == Use.BOUNDED_VERTEX;
        int stride = vertex ? element + 3 & ~3 : element;
        ByteBuffer out = ByteBuffer.allocate(count * stride).order(ByteOrder.LITTLE_ENDIAN);
        for (int e = 0; e < count; e++) {
            for (int i = 0; i < width; i++) {
                put(out, e * stride + i * size, values[e * width + i], storage);
            }
        }
        int view = view(out.array(), vertex ? ARRAY_BUFFER : 0, stride == element ? 0 : stride);
        ObjectNode accessor = accessor(view, storage, count, width == 16 ? "MAT4" : TYPES[width]);
        if (use == Use.BOUNDED_VERTEX || use == Use.KEYS) {
            bounds(accessor, values, width);
        }
        written.put(values, accessors.size() - 1);
        return accessors.size() - 1;
    }

    /** Writes whole numbers; {@code key} stands for what they came from, so that it is written once. */
    int wholes(Object key, int[] values, int width, Storage storage, Use use) {
        Integer known = written.get(key);
        if (known != null) {
            return known;
        }
        int size = size(storage);
        ByteBuffer out = ByteBuffer.allocate(values.length * size).order(ByteOrder.LITTLE_ENDIAN);
        for (int i = 0; i < values.length; i++) {
            switch (storage) {
                case UNSIGNED_BYTE -> out.put(i, (byte) values[i]);
                case UNSIGNED_SHORT -> out.putShort(i * 2, (short) values[i]);
                default -> out.putInt(i * 4, values[i]);
            }
        }
        int view = view(out.array(), use == Use.INDEX ? ELEMENT_ARRAY_BUFFER : ARRAY_BUFFER, 0);
        accessor(view, storage, values.length / width, TYPES[width]);
        written.put(key, accessors.size() - 1);
        return accessors.size() - 1;
    }

    /** Adds a view of its own, such as a picture's; returns its number. */
    int view(byte[] data, int target, int stride) {
        while (bytes.size() % 4 != 0) {
            bytes.write(0);
        }
        ObjectNode view = views.addObject();
        view.put("buffer", 0);
        view.put("byteOffset", bytes.size());
        view.put("byteLength", data.length);
        if (stride > 0) {
            view.put("byteStride", stride);
        }
        if (target > 0) {
            view.put("target", target);
        }
        bytes.writeBytes(data);
        return views.size() - 1;
    }

    private ObjectNode accessor(int view, Storage storage, int count, String type) {
        ObjectNode accessor = accessors.addObject();
        accessor.put("bufferView", view);
        accessor.put("componentType", componentType(storage));
        if (storage.normalised()) {
            accessor.put("normalized", true);
        }
        accessor.put("count", count);
        accessor.put("type", type);
        return accessor;
    }

    private static void bounds(ObjectNode accessor, float[] values, int width) {
        float[] min = new float[width];
        float[] max = new float[width];
        java.util.Arrays.fill(min, Float.POSITIVE_INFINITY);
        java.util.Arrays.fill(max, Float.NEGATIVE_INFINITY);
        for (int i = 0; i < values.length; i++) {
            if (Float.isFinite(values[i])) {
                min[i % width] = Math.min(min[i % width], values[i]);
                max[i % width] = Math.max(max[i % width], values[i]);
            }
        }
        ArrayNode low = accessor.putArray("min");
        ArrayNode high = accessor.putArray("max");
        for (int i = 0; i < width; i++) {
            low.add(Float.isFinite(min[i]) ? min[i] : 0);
            high.add(Float.isFinite(max[i]) ? max[i] : 0);
        }
    }

    private static void put(ByteBuffer out, int at, float value, Storage storage) {
        switch (storage) {
            case BYTE -> out.put(at, (byte) value);
            case BYTE_NORMALISED -> out.put(at, (byte) Math.round(value * 127));
            case UNSIGNED_BYTE -> out.put(at, (byte) (int) value);
            case UNSIGNED_BYTE_NORMALISED -> out.put(at, (byte) Math.round(value * 255));
            case SHORT -> out.putShort(at, (short) value);
            case SHORT_NORMALISED -> out.putShort(at, (short) Math.round(value * 32767));
            case UNSIGNED_SHORT -> out.putShort(at, (short) (int) value);
            case UNSIGNED_SHORT_NORMALISED -> out.putShort(at, (short) Math.round(value * 65535));
            case UNSIGNED_INT -> out.putInt(at, (int) (long) value);
            case FLOAT -> out.putFloat(at, value);
        }
    }

    private static int size(Storage storage) {
        return switch (storage) {
            case BYTE, UNSIGNED_BYTE, BYTE_NORMALISED, UNSIGNED_BYTE_NORMALISED -> 1;
            case SHORT, UNSIGNED_SHORT, SHORT_NORMALISED, UNSIGNED_SHORT_NORMALISED -> 2;
            case UNSIGNED_INT, FLOAT -> 4;
        };
    }

    private static int componentType(Storage storage) {
        return switch (storage) {
            case BYTE, BYTE_NORMALISED -> 5120;
            case UNSIGNED_BYTE, UNSIGNED_BYTE_NORMALISED -> 5121;
            case SHORT, SHORT_NORMALISED -> 5122;
            case UNSIGNED_SHORT, UNSIGNED_SHORT_NORMALISED -> 5123;
            case UNSIGNED_INT -> 5125;
            case FLOAT -> 5126;
        };
    }
}
