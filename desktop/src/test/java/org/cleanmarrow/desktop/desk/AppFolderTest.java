package org.cleanmarrow.desktop.desk;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import org.testng.annotations.Test;

public class AppFolderTest {
    @Test
    public void theLastEightOfWhatWasPutAwayAreKept() throws Exception {
        Path home = Files.createTempDirectory("marrow-home");
        AppFolder folder = new AppFolder(home);
        for (int i = 0; i < 11; i++) {
            folder.keep("/ferry/crate_" + i + ".glb", "{\"ledger\": 1}");
        }
        assertThat(folder.leftovers()).hasSize(8);
        assertThat(folder.leftovers()).extracting(AppFolder.Leftover::name).contains("crate_10.glb", "crate_3.glb");
        assertThat(folder.leftovers().getFirst().ledger()).isEqualTo("{\"ledger\": 1}");
        folder.leftovers().forEach(folder::discard);
        assertThat(folder.leftovers()).isEmpty();
    }

    /** Whatever lies in the folder, the window opens. */
    @Test
    public void whatIsNoWorkIsPassedOver() throws Exception {
        Path home = Files.createTempDirectory("marrow-home");
        Files.writeString(home.resolve("kept-1.recovery"), "");
        Files.writeString(home.resolve("kept-2.recovery"), "no end of line");
        Files.write(home.resolve("kept-3.recovery"), new byte[] {(byte) 0xff, (byte) 0xfe, 10});
        Files.createDirectory(home.resolve("kept-4.recovery"));
        Files.write(
                home.resolve("work-.recovery"),
                "x".repeat(200_000).concat("\n{}").getBytes(StandardCharsets.UTF_8));
        assertThat(new AppFolder(home).leftovers()).isEmpty();
        assertThat(new AppFolder(home.resolve("nowhere")).leftovers()).isEmpty();
    }
}
