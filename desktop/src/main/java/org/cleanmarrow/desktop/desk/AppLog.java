package org.cleanmarrow.desktop.desk;

import ch.qos.logback.classic.Level;
import ch.qos.logback.classic.LoggerContext;
import ch.qos.logback.classic.encoder.PatternLayoutEncoder;
import ch.qos.logback.classic.spi.ILoggingEvent;
import ch.qos.logback.core.rolling.FixedWindowRollingPolicy;
import ch.qos.logback.core.rolling.RollingFileAppender;
import ch.qos.logback.core.rolling.TriggeringPolicyBase;
import java.io.File;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * The application's log: what ran, how long, and where it failed, for whoever is asked for help. Kinds of errors and places
 * in our code are written down; names, messages and anything else out of people's files never are. Four files of half a
 * megabyte at most. Until it is started nothing is written anywhere.
 */
public final class AppLog {
    private static final Logger LOG = LoggerFactory.getLogger("marrow");
    private static final String FILE = "marrow.log";
    private static final long MOST_BYTES = 512 * 1024;
    private static final int OLDER = 3;

    private AppLog() {}

    /** Writes to a folder from now on; without it where the folder cannot be written. */
    public static void start(Path folder) {
        try {
            Files.createDirectories(folder);
        } catch (IOException e) {
            System.err.println("No log is written: " + folder + " cannot be made");
            return;
        }
        LoggerContext context = (LoggerContext) LoggerFactory.getILoggerFactory();
        context.reset();
        String file = folder.resolve(FILE).toString();
        RollingFileAppender<ILoggingEvent> out = new RollingFileAppender<>();
        out.setContext(context);
        out.setFile(file);
        PatternLayoutEncoder lines = new PatternLayoutEncoder();
        lines.setContext(context);
        lines.setCharset(StandardCharsets.UTF_8);
        lines.setPattern("%d{yyyy-MM-dd'T'HH:mm:ss.SSS} %-5level [%thread] %msg%n");
        lines.start();
        FixedWindowRollingPolicy older = new FixedWindowRollingPolicy();
        older.setContext(context);
        older.setParent(out);
        older.setMinIndex(1);
        older.setMaxIndex(OLDER);
        older.setFileNamePattern(file.replace(FILE, "marrow.%i.log"));
        older.start();
        // Not by the clock, as the policy by size that comes with it looks: much can be written between two of its
        // looks.
        TriggeringPolicyBase<ILoggingEvent> size = new TriggeringPolicyBase<>() {
            @Override
            public boolean isTriggeringEvent(File now, ILoggingEvent event) {
                return now.length() >= MOST_BYTES;
            }
        };
        size.setContext(context);
        size.start();
        out.setEncoder(lines);
        out.setRollingPolicy(older);
        out.setTriggeringPolicy(size);
        out.start();
        ch.qos.logback.classic.Logger root = context.getLogger(Logger.ROOT_LOGGER_NAME);
        root.setLevel(Level.INFO);
        root.addAppender(out);
        LOG.info(
                "started: Java {}, {} {} {}, {} cores, {} MB heap at most",
                System.getProperty("java.version"),
                System.getProperty("os.name"),
                System.getProperty("os.version"),
                System.getProperty("os.arch"),
                Runtime.getRuntime().availableProcessors(),
                Runtime.getRuntime().maxMemory() >> 20);
    }

    /** A thing that was done, with no name out of a file in it. */
    public static void did(String what, long milliseconds) {
        LOG.info("{}: {} ms", what, milliseconds);
    }

    /** A failure, as the kinds of its errors and where in the code they came from. */
    public static void failed(String doing, Throwable trouble) {
        StringBuilder out = new StringBuilder();
        int causes = 0;
        for (Throwable t = trouble; t != null && causes++ < 5; t = t.getCause()) {
            out.append(out.isEmpty() ? "" : "\n  caused by ")
                    .append(t.getClass().getName());
            StackTraceElement[] frames = t.getStackTrace();
            for (int i = 0; i < Math.min(20, frames.length); i++) {
                out.append("\n    at ").append(frames[i]);
            }
        }
        LOG.warn("{} failed: {}", doing, out);
    }
}
