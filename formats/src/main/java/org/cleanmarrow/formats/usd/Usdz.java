package org.cleanmarrow.formats.usd;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.zip.CRC32;
import java.util.zip.ZipEntry;
import java.util.zip.ZipInputStream;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.file.Written;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;
import org.jspecify.annotations.Nullable;

/**
 * USD packed: a ZIP that stores its files without compression, the data of each beginning at a multiple of 64 bytes, the scene first. The
 * same scene always gives the same bytes.
 */
public final class Usdz {
    private static final int ALIGNMENT = 64;
    private static final int LOCAL = 30;
    private static final int CENTRAL = 46;
    private static final int END = 22;
    private static final int MOST_BYTES = 1 << 30;
    /** 1 January 1980, the first day there is. */
    private static final short DAY = 0x21;

    private Usdz() {}

    public static Written write(Asset asset, String base, Work work) throws Refused {
        Written text = UsdWriter.write(asset, base, work);
        List<Written.Piece> out = new ArrayList<>();
        for (Written.Piece piece : text.pieces()) {
            String packed = piece.name().replaceAll("\\.usda$", ".usdz");
            out.add(new Written.Piece(packed, packed(piece.name(), piece.bytes()), piece.meant()));
        }
        return new Written(out, text.notes());
    }

    static byte[] packed(String name, byte[] bytes) {
        byte[] called = name.getBytes(StandardCharsets.UTF_8);
        int head = LOCAL + called.length;
        // A field of its own takes up the room; it is at least four bytes long.
        int room = (ALIGNMENT - head % ALIGNMENT) % ALIGNMENT;
        room += room > 0 && room < 4 ? ALIGNMENT : 0;
        CRC32 crc = new CRC32();
        crc.update(bytes);
        int data = head + room;
        ByteBuffer out = ByteBuffer.allocate(data + bytes.length + CENTRAL + called.length + END)
                .order(ByteOrder.LITTLE_ENDIAN);
        out.putInt(0x04034B50).putShort((short) 10);
        described(out, (int) crc.getValue(), bytes.length, called.length, room);
        out.put(called);
        if (room > 0) {
            out.putShort((short) 0x1986).putShort((short) (room - 4));
        }
        out.position(data).put(bytes);
        int directory = out.position();
        out.putInt(0x02014B50).putShort((short) 10).putShort((short) 10);
        described(out, (int) crc.getValue(), bytes.length, called.length, 0);
        out.putShort((short) 0)
                .putShort((short) 0)
                .putShort((short) 0)
                .putInt(0)
                .putInt(0)
                .put(called);
        int size = out.position() - directory;
        out.putInt(0x06054B50)
                .putShort((short) 0)
                .putShort((short) 0)
                .putShort((short) 1)
                .putShort((short) 1);
        out.putInt(size).putInt(directory).putShort((short) 0);
        return out.array();
    }

    private static void described(ByteBuffer out, int crc, int length, int name, int extra) {
        // UTF-8 names, stored.
        out.putShort((short) 0x0800).putShort((short) 0).putShort((short) 0).putShort(DAY);
        out.putInt(crc).putInt(length).putInt(length).putShort((short) name).putShort((short) extra);
    }

    /** The first file of a package, which is the scene. */
    public static Asset read(byte[] bytes, String name, @Nullable Path folder, Work work) throws ReadFailed {
        try (ZipInputStream zip = new ZipInputStream(new ByteArrayInputStream(bytes))) {
            ZipEntry entry = zip.getNextEntry();
            if (entry == null) {
                throw new ReadFailed(name, "", "expected a ZIP with a scene in it");
            }
            byte[] scene = zip.readNBytes(MOST_BYTES);
            if (zip.read() >= 0) {
                throw new ReadFailed(name, entry.getName(), "is longer than " + MOST_BYTES + " bytes");
            }
            return UsdReader.read(scene, name, null, work);
        } catch (IOException | IllegalArgumentException e) {
            throw new ReadFailed(name, "", "is a broken ZIP: " + e.getMessage());
        }
    }
}
