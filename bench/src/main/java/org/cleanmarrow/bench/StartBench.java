package org.cleanmarrow.bench;

import java.io.BufferedReader;
import java.io.File;
import java.io.IOException;
import java.io.InputStreamReader;
import java.lang.management.ManagementFactory;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.jar.JarEntry;
import java.util.jar.JarOutputStream;
import java.util.stream.Stream;

/** Cold starts in processes of their own: an empty window, ours, and the demo on the desk, turn by turn. */
final class StartBench {
    private static final int TIMES = 5;
    /** Over an empty window. */
    private static final long GOAL = 1500;

    private StartBench() {}

    static void run(Report report) throws Exception {
        report.title("Cold start, milliseconds from the start of the process, median of " + TIMES);
        Path folder = Files.createTempDirectory("marrow-start");
        String path = jars(folder);
        Path archive = folder.resolve("start.aot");
        // As ./marrow does it: the first use leaves an archive behind, which later ones start from.
        start("demo", path, List.of("-XX:AOTCacheOutput=" + archive, "-Xlog:disable", "-Dmarrow.train=true"));
        List<String> from = List.of("-XX:AOTCache=" + archive, "-Xlog:disable");
        String[] kinds = {"empty", "window", "demo", "window", "demo"};
        String[] names = {"empty", "window", "demo", "window, from the archive", "demo, from the archive"};
        double[][] all = new double[kinds.length][TIMES];
        for (int i = 0; i < TIMES; i++) {
            for (int k = 0; k < kinds.length; k++) {
                all[k][i] = start(kinds[k], path, k < 3 ? List.of() : from);
            }
        }
        double[] medians = new double[kinds.length];
        for (int k = 0; k < kinds.length; k++) {
            Arrays.sort(all[k]);
            medians[k] = all[k][TIMES / 2];
            report.note(String.format(
                    Locale.ROOT,
                    "%-24s %6.0f ms (%.0f to %.0f), %.0f over an empty window",
                    names[k],
                    medians[k],
                    all[k][0],
                    all[k][TIMES - 1],
                    medians[k] - medians[0]));
        }
        for (int k = 3; k < kinds.length; k++) {
            report.most("over an empty window, ms: " + names[k], Math.round(medians[k] - medians[0]), GOAL);
        }
    }

    /** The class path with folders packed: an archive is of jars alone. */
    private static String jars(Path folder) throws IOException {
        List<String> out = new ArrayList<>();
        for (String entry : System.getProperty("java.class.path").split(File.pathSeparator)) {
            Path at = Path.of(entry);
            if (!Files.isDirectory(at)) {
                out.add(entry);
                continue;
            }
            Path jar = folder.resolve("module-" + out.size() + ".jar");
            try (JarOutputStream into = new JarOutputStream(Files.newOutputStream(jar));
                    Stream<Path> files = Files.walk(at)) {
                for (Path file : files.filter(Files::isRegularFile).sorted().toList()) {
                    into.putNextEntry(
                            new JarEntry(at.relativize(file).toString().replace('\\', '/')));
                    Files.copy(file, into);
                    into.closeEntry();
                }
            }
            out.add(jar.toString());
        }
        return String.join(File.pathSeparator, out);
    }

    private static double start(String kind, String path, List<String> flags) throws Exception {
        List<String> command = new ArrayList<>();
        command.add(Path.of(System.getProperty("java.home"), "bin", "java").toString());
        // As this process was started itself, which is as a window is.
        command.addAll(ManagementFactory.getRuntimeMXBean().getInputArguments());
        command.addAll(flags);
        command.addAll(List.of("-cp", path, StartMain.class.getName(), kind));
        Process process = new ProcessBuilder(command).redirectErrorStream(true).start();
        try (BufferedReader lines =
                new BufferedReader(new InputStreamReader(process.getInputStream(), StandardCharsets.UTF_8))) {
            // To its end: whoever writes an archive must not find its output closed.
            return lines.lines().toList().stream()
                    .filter(l -> l.startsWith("usable "))
                    .mapToDouble(l -> Double.parseDouble(l.substring(7)))
                    .findFirst()
                    .orElseThrow(() -> new IllegalStateException("the window did not start: " + kind));
        } finally {
            process.waitFor();
        }
    }
}
