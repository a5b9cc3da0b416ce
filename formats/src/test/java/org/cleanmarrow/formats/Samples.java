package org.cleanmarrow.formats;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.kit.OpenSamples;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Work;

/** The open samples, read. */
final class Samples {
    private Samples() {}

    static Path path(String name) {
        return OpenSamples.path(name);
    }

    static Asset read(String name) throws ReadFailed {
        return AssetFiles.open(path(name), Work.QUIET);
    }

    static List<Path> valid() throws IOException {
        return OpenSamples.valid();
    }
}
