package org.cleanmarrow.batch;

import java.io.IOException;
import java.io.InputStream;
import java.util.Properties;
import picocli.CommandLine.IVersionProvider;

/** What the build says it is. */
final class Version implements IVersionProvider {
    @Override
    public String[] getVersion() throws IOException {
        Properties built = new Properties();
        try (InputStream in = Version.class.getResourceAsStream("version.properties")) {
            built.load(in);
        }
        return new String[] {"Clean Marrow " + built.getProperty("version")};
    }
}
