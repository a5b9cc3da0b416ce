package org.cleanmarrow.formats.file;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.lang.foreign.MemorySegment;
import java.lang.foreign.ValueLayout;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicLong;
import java.util.stream.Stream;
import org.cleanmarrow.caches.CacheBake;
import org.cleanmarrow.caches.FrameRoom;
import org.cleanmarrow.model.VertexFrames;
import org.cleanmarrow.work.Work;
import org.testng.annotations.Test;

/** Frames in a mapped file are the frames that were put, and no file is left. */
public class MappedRoomTest {
    private static List<Path> left() throws IOException {
        try (Stream<Path> all = Files.list(Path.of(System.getProperty("java.io.tmpdir")))) {
            return all.filter(p -> p.getFileName().toString().startsWith("marrow-frames"))
                    .toList();
        }
    }

    @Test
    public void whatIsPutThereIsThereAndNoFileIsLeft() throws Exception {
        List<Path> before = left();
        MemorySegment room = MappedRoom.of(1 << 20).orElseThrow();
        assertThat(room.byteSize()).isEqualTo(1 << 20);
        assertThat(room.isMapped()).isTrue();
        room.set(ValueLayout.JAVA_FLOAT, (1 << 20) - 4, 2.5f);
        assertThat(room.get(ValueLayout.JAVA_FLOAT, (1 << 20) - 4)).isEqualTo(2.5f);
        assertThat(room.get(ValueLayout.JAVA_FLOAT, 0)).isZero();
        assertThat(left()).isSubsetOf(before);
        assertThat(MappedRoom.of(1L << 60)).as("more than any disk has").isEmpty();
    }

    /** Frames over the bound are asked for there; where there is no room they lie in memory. */
    @Test
    public void largeFramesAreAskedForThereAndOnlyThose() {
        int vertices = (int) (FrameRoom.LARGE / 12 / 4) + 1;
        AtomicLong asked = new AtomicLong();
        FrameRoom.useForLarge(bytes -> {
            asked.set(bytes);
            return MappedRoom.of(bytes);
        });
        try {
            CacheBake.Frame made = (k, out) -> out[3 * (vertices - 1)] = k + 0.5f;
            CacheBake.frames(vertices, 1, Work.QUIET, made);
            assertThat(asked.get()).isZero();
            VertexFrames large = CacheBake.frames(vertices, 4, Work.QUIET, made);
            assertThat(asked.get()).isEqualTo(48L * vertices);
            float[] out = new float[3 * vertices];
            for (int k = 0; k < 4; k++) {
                large.read(k, out);
                assertThat(out[3 * (vertices - 1)]).isEqualTo(k + 0.5f);
            }
            FrameRoom.useForLarge(bytes -> Optional.empty());
            assertThat(CacheBake.frames(vertices, 4, Work.QUIET, made).count()).isEqualTo(4);
        } finally {
            FrameRoom.useForLarge(bytes -> Optional.empty());
        }
    }
}
