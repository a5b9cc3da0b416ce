package org.cleanmarrow.bench;

import java.nio.file.Files;
import java.nio.file.Path;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.check.Target;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.step.Work;

/** Opening a file against reading its bytes, and all checks on it. */
final class FileBench {
    private FileBench() {}

    static void run(Report report, Asset big) throws Exception {
        Path file = Files.createTempFile("marrow-bench", ".glb");
        try {
            byte[] bytes = GltfWriter.glb(big);
            Files.write(file, bytes);
            report.title(
                    "Files, 100,000 vertices, 200 joints, 10 clips of 300 frames, " + bytes.length / 1_000_000 + " MB");
            Timing read = Timing.of(20, 40, () -> Files.readAllBytes(file));
            Timing open = Timing.of(20, 40, () -> AssetFiles.open(file, Work.QUIET));
            report.against("open", open, "reading the bytes", read, 8);
            Timing write = Timing.of(5, 20, () -> GltfWriter.glb(big));
            report.within("write, in memory", write, 1000);
            Target target = Target.named("z-up-cm-lh").orElseThrow();
            // A fresh asset each time, so that nothing found before is used again.
            report.within(
                    "open and run all checks",
                    Timing.of(3, 15, () -> Checks.run(AssetFiles.open(file, Work.QUIET), target, Work.QUIET)),
                    1000);
        } finally {
            Files.deleteIfExists(file);
        }
    }
}
