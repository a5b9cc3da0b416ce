package org.cleanmarrow.formats;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.stream.Stream;
import org.cleanmarrow.formats.delivery.Delivery;
import org.cleanmarrow.formats.file.SafeFiles;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Work;
import org.testng.annotations.Test;

public class DeliveryTest {
    @Test
    public void everyDeliveryIsANewVersionAndTheOldOnesStay() throws Exception {
        Path folder = Files.createTempDirectory("marrow").resolve("made/on/demand");
        Asset asset = RandomAssets.of(3).withName("pilot");
        Delivery.Delivered first = Delivery.deliver(asset, folder, "glb", Work.QUIET);
        byte[] before = Files.readAllBytes(first.files().getFirst());
        Delivery.Delivered second = Delivery.deliver(RandomAssets.of(4).withName("pilot"), folder, "glb", Work.QUIET);
        assertThat(first.files().getFirst().getFileName()).hasToString("pilot_v001.glb");
        assertThat(second.files().getFirst().getFileName()).hasToString("pilot_v002.glb");
        assertThat(Files.readAllBytes(first.files().getFirst())).isEqualTo(before);
        assertThat(first.landing().largestMetres()).isZero();
        assertThat(first.landing().moments()).isGreaterThan(10);
        Files.createFile(folder.resolve("pilot_v041.glb"));
        Files.createFile(folder.resolve("pilot_vxyz.glb"));
        assertThat(Delivery.nextVersion(folder, "pilot")).isEqualTo(42);
        assertThat(Delivery.nextVersion(folder, "pilo")).isEqualTo(1);
        try (Stream<Path> files = Files.list(folder)) {
            assertThat(files.map(f -> f.getFileName().toString())).noneMatch(n -> n.contains("tmp"));
        }
    }

    @Test
    public void namesCannotLeaveTheFolder() throws Exception {
        Path folder = Files.createTempDirectory("marrow");
        Delivery.Delivered delivered =
                Delivery.deliver(RandomAssets.of(3).withName("../../etc/x y"), folder, "glb", Work.QUIET);
        assertThat(delivered.files().getFirst().getParent()).isEqualTo(folder);
        assertThat(delivered.files().getFirst().getFileName().toString())
                .doesNotContain("/")
                .endsWith("_v001.glb");
    }

    @Test
    public void filesAreWrittenWholeOrNotAtAll() throws Exception {
        Path folder = Files.createTempDirectory("marrow");
        Path file = folder.resolve("a.bin");
        SafeFiles.create(file, new byte[] {1, 2});
        assertThatThrownBy(() -> SafeFiles.create(file, new byte[] {3})).isInstanceOf(FileAlreadyExistsException.class);
        assertThat(Files.readAllBytes(file)).containsExactly(1, 2);
        SafeFiles.replace(file, new byte[] {9});
        assertThat(Files.readAllBytes(file)).containsExactly(9);
        try (Stream<Path> files = Files.list(folder)) {
            assertThat(files).containsExactly(file);
        }
    }
}
