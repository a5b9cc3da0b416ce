package org.cleanmarrow.desktop.desk;

import java.io.IOException;
import java.io.StringReader;
import java.io.StringWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Properties;
import java.util.function.Consumer;
import javafx.beans.property.BooleanProperty;
import javafx.beans.property.DoubleProperty;
import javafx.beans.property.SimpleBooleanProperty;
import javafx.beans.property.SimpleDoubleProperty;
import javafx.beans.property.SimpleStringProperty;
import javafx.beans.property.StringProperty;
import javafx.collections.FXCollections;
import javafx.collections.MapChangeListener;
import javafx.collections.ObservableMap;
import org.cleanmarrow.convention.Units;
import org.cleanmarrow.formats.file.SafeFiles;

/** What a person set up and wants to find again, kept as a text file in the platform's place for it. */
public final class Preferences {
    public static final double LEAST_SCALE = 1;
    public static final double MOST_SCALE = 2;
    private static final String KEY = "key.";

    private final Path file;
    private final Consumer<Runnable> writer;
    private final BooleanProperty dark = new SimpleBooleanProperty();
    private final BooleanProperty smooth = new SimpleBooleanProperty(true);
    private final DoubleProperty scale = new SimpleDoubleProperty(LEAST_SCALE);
    private final StringProperty unit = new SimpleStringProperty("");
    private final DoubleProperty left = new SimpleDoubleProperty();
    private final DoubleProperty right = new SimpleDoubleProperty();
    private final ObservableMap<String, String> keys = FXCollections.observableHashMap();

    /** Preferences that are written at once. */
    public Preferences(Path file) {
        this(file, Runnable::run);
    }

    /** @param writer where writing is done, one after the other */
    Preferences(Path file, Consumer<Runnable> writer) {
        this.file = file;
        this.writer = writer;
        read();
        dark.addListener((o, a, b) -> write());
        smooth.addListener((o, a, b) -> write());
        scale.addListener((o, a, b) -> write());
        unit.addListener((o, a, b) -> write());
        left.addListener((o, a, b) -> write());
        right.addListener((o, a, b) -> write());
        keys.addListener((MapChangeListener<String, String>) change -> write());
    }

    private void read() {
        Properties read = new Properties();
        try {
            read.load(new StringReader(Files.readString(file)));
        } catch (IOException | IllegalArgumentException e) {
            // The first start, or a file that somebody broke: then everything is as it comes.
            return;
        }
        dark.set(Boolean.parseBoolean(read.getProperty("dark")));
        smooth.set(Boolean.parseBoolean(read.getProperty("smooth", "true")));
        try {
            scale.set(Math.clamp(Double.parseDouble(read.getProperty("scale", "1")), LEAST_SCALE, MOST_SCALE));
        } catch (IllegalArgumentException e) {
            scale.set(LEAST_SCALE);
        }
        left.set(width(read, "left", left.get()));
        right.set(width(read, "right", right.get()));
        String wanted = read.getProperty("unit", "");
        unit.set(Units.metresPer(wanted).isPresent() ? wanted : "");
        read.stringPropertyNames().stream()
                .filter(n -> n.startsWith(KEY))
                .forEach(n -> keys.put(n.substring(KEY.length()), read.getProperty(n)));
    }

    private static double width(Properties read, String key, double otherwise) {
        try {
            double width = Double.parseDouble(read.getProperty(key, Double.toString(otherwise)));
            return width > 0 ? Math.clamp(width, 150, 700) : otherwise;
        } catch (IllegalArgumentException e) {
            return otherwise;
        }
    }

    private void write() {
        Properties out = new Properties();
        out.setProperty("dark", Boolean.toString(dark.get()));
        out.setProperty("smooth", Boolean.toString(smooth.get()));
        out.setProperty("scale", Double.toString(scale.get()));
        out.setProperty("unit", unit.get());
        out.setProperty("left", Double.toString(left.get()));
        out.setProperty("right", Double.toString(right.get()));
        keys.forEach((act, combination) -> out.setProperty(KEY + act, combination));
        writer.accept(() -> store(out));
    }

    private void store(Properties out) {
        StringWriter text = new StringWriter();
        try {
            out.store(text, null);
            SafeFiles.replace(file, text.toString().getBytes(StandardCharsets.UTF_8));
        } catch (IOException e) {
            AppLog.failed("writing preferences", e);
        }
    }

    /** Whether the dark theme is on. */
    public BooleanProperty dark() {
        return dark;
    }

    /** Whether a picture that rests is drawn once more with smooth edges, which takes long without graphics hardware. */
    public BooleanProperty smooth() {
        return smooth;
    }

    /** Size of the whole interface, {@value #LEAST_SCALE} to {@value #MOST_SCALE}. */
    public DoubleProperty scale() {
        return scale;
    }

    public void scaleBy(double step) {
        scale.set(Math.clamp(Math.rint((scale.get() + step) * 8) / 8, LEAST_SCALE, MOST_SCALE));
    }

    /** Width of the contents, in pixels at size 1; 0 where nobody dragged them: what suits the window. */
    public DoubleProperty left() {
        return left;
    }

    /** Width of the station's column, likewise. */
    public DoubleProperty right() {
        return right;
    }

    /** Unit that lengths are said in; empty: whichever suits their size. */
    public StringProperty unit() {
        return unit;
    }

    /** Key combinations that differ from those an act comes with; an empty one takes the key away. */
    public ObservableMap<String, String> keys() {
        return keys;
    }

    /** A length in the unit set up. */
    public String say(double metres) {
        return Units.sayIn(metres, unit.get());
    }
}
