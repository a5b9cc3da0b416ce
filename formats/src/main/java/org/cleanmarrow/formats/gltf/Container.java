package org.cleanmarrow.formats.gltf;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import org.cleanmarrow.formats.file.FileBytes;
import org.cleanmarrow.formats.file.ReadFailed;
import org.jspecify.annotations.Nullable;

/**
 * The two halves of a file: its JSON text and, for a GLB, its binary chunk (glTF 2.0, chapter 4).
 *
 * @param binary null where there is none
 */
record Container(byte[] json, @Nullable ByteBuffer binary) {
    private static final int MAGIC = 0x46546C67;
    private static final int JSON = 0x4E4F534A;
    private static final int BIN = 0x004E4942;

    static Container of(ByteBuffer bytes, String file) throws ReadFailed {
        ByteBuffer in = bytes.duplicate().order(ByteOrder.LITTLE_ENDIAN);
        if (in.limit() < 4 || in.getInt(0) != MAGIC) {
            return new Container(FileBytes.array(bytes), null);
        }
        if (in.limit() < 20) {
            throw new ReadFailed(file, "header", "expected at least 20 bytes, found " + in.limit());
        }
        int version = in.getInt(4);
        if (version != 2) {
            throw new ReadFailed(file, "header", "expected GLB version 2, found " + Integer.toUnsignedString(version));
        }
        long length = Integer.toUnsignedLong(in.getInt(8));
        if (length > in.limit()) {
            throw new ReadFailed(
                    file, "header", "says " + length + " bytes, the file has " + in.limit() + "; it is cut off");
        }
        byte[] json = null;
        ByteBuffer binary = null;
        int at = 12;
        for (int chunk = 0; at + 8 <= length; chunk++) {
            long size = Integer.toUnsignedLong(in.getInt(at));
            int type = in.getInt(at + 4);
            if (size > length - at - 8) {
                throw new ReadFailed(
                        file, "chunk " + chunk, "says " + size + " bytes, " + (length - at - 8) + " are left");
            }
            int from = at + 8;
            if (chunk == 0) {
                if (type != JSON) {
                    throw new ReadFailed(file, "chunk 0", "expected the JSON chunk first");
                }
                json = new byte[(int) size];
                in.get(from, json);
            } else if (type == BIN && binary == null) {
                binary = in.slice(from, (int) size).order(ByteOrder.LITTLE_ENDIAN);
            }
            at = from + (int) size;
        }
        if (json == null) {
            throw new ReadFailed(file, "chunk 0", "there is no JSON chunk");
        }
        return new Container(json, binary);
    }
}
