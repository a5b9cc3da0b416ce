package org.cleanmarrow.formats.file;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import org.cleanmarrow.model.Clip;

/** What files are called that hold a clip each. */
public final class ClipFiles {
    private ClipFiles() {}

    /**
     * A name for each clip, all of them different in any case: the base alone where there is one, otherwise with the clip's name.
     *
     * @param base without ending
     */
    public static List<String> names(String base, List<Clip> clips) {
        Set<String> taken = new HashSet<>();
        List<String> out = new ArrayList<>();
        for (Clip clip : clips) {
            String plain = clip.name().replaceAll("[^\\p{L}\\p{N}_-]", "_");
            String wanted = clips.size() == 1 ? base : base + "_" + (plain.isEmpty() ? "clip" : plain);
            String name = wanted;
            for (int i = 2; !taken.add(name.toLowerCase(Locale.ROOT)); i++) {
                name = wanted + "_" + i;
            }
            out.add(name);
        }
        return out;
    }
}
