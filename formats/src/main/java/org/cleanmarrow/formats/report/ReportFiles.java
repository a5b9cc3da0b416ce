package org.cleanmarrow.formats.report;

import java.io.IOException;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.cleanmarrow.formats.delivery.Delivery;
import org.cleanmarrow.formats.file.SafeFiles;

/** Where pages of reports are put; none takes the place of another. */
public final class ReportFiles {
    private static final String MANIFEST = ".manifest.json";

    private ReportFiles() {}

    /** Beside a delivery, as {@code name_v003.report.html}; it is no part of it and not in its manifest. */
    public static Path beside(Delivery.Delivered delivered, byte[] page) throws IOException {
        String manifest = String.valueOf(delivered.manifest().getFileName());
        String name = manifest.substring(0, manifest.length() - MANIFEST.length());
        return create(delivered.manifest().resolveSibling(name), page);
    }

    /** In a folder, which is made where it is not there, as {@code name.report.html}, or with a number where that is taken. */
    public static Path into(Path folder, String name, byte[] page) throws IOException {
        Files.createDirectories(folder);
        return create(folder.resolve(Delivery.legal(name)), page);
    }

    private static Path create(Path base, byte[] page) throws IOException {
        for (int number = 1; ; number++) {
            String ending = number == 1 ? ".report.html" : ".report_" + number + ".html";
            Path file = base.resolveSibling(base.getFileName() + ending);
            try {
                SafeFiles.create(file, page);
                return file;
            } catch (FileAlreadyExistsException e) {
                // Taken: the next number.
            }
        }
    }
}
