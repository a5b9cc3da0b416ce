package org.cleanmarrow.bench;

import java.nio.file.Files;
import java.nio.file.Path;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Work;

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
        obj(report);
    }

    /** An OBJ of 200,000 vertices against another reader, its whole process. */
    private static void obj(Report report) throws Exception {
        int side = 447;
        StringBuilder text = new StringBuilder();
        for (int i = 0; i < side * side; i++) {
            text.append("v ")
                    .append(i % side * 0.01)
                    .append(' ')
                    .append(Math.sin(i * 0.01))
                    .append(' ')
                    .append(i / side * 0.01);
            text.append('\n');
        }
        for (int i = 0; i < (side - 1) * side; i++) {
            if (i % side < side - 1) {
                int a = i + 1;
                text.append("f ")
                        .append(a)
                        .append(' ')
                        .append(a + 1)
                        .append(' ')
                        .append(a + side + 1);
                text.append(' ').append(a + side).append('\n');
            }
        }
        Path file = Files.createTempFile("marrow-bench", ".obj");
        try {
            Files.writeString(file, text);
            Timing[] both = Timing.inTurn(1, 4, () -> AssetFiles.open(file, Work.QUIET), () -> {
                Process other = new ProcessBuilder("assimp", "info", file.toString())
                        .redirectOutput(ProcessBuilder.Redirect.DISCARD)
                        .redirectErrorStream(true)
                        .start();
                other.waitFor();
            });
            report.against("open an OBJ of 199,809 vertices", both[0], "assimp info", both[1], 1 / 3.0);
        } finally {
            Files.deleteIfExists(file);
        }
    }
}
