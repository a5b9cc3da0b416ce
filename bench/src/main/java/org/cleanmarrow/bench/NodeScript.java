package org.cleanmarrow.bench;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.concurrent.TimeUnit;

/** Asks three.js in Node about a GLB. */
final class NodeScript {
    private NodeScript() {}

    /** What one of the scripts in tools/reference prints about it; empty where Node or three.js is not there. */
    static String said(String script, byte[] glb) throws Exception {
        Path file = Files.createTempFile("marrow-bench", ".glb");
        try {
            Files.write(file, glb);
            Path path = Path.of(System.getProperty("marrow.root", "."), "tools/reference", script);
            Process node = new ProcessBuilder("node", path.toString(), file.toString())
                    .redirectError(ProcessBuilder.Redirect.DISCARD)
                    .start();
            String out = new String(node.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
            return node.waitFor(120, TimeUnit.SECONDS) && node.exitValue() == 0 ? out : "";
        } finally {
            Files.deleteIfExists(file);
        }
    }
}
