package org.cleanmarrow.edit;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.naming.NamePattern;
import org.cleanmarrow.query.Inventory;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;

/** Changes clips that are chosen by their names. */
public final class Clips {
    /** Stands before a tag where clips are chosen. */
    private static final String TAG = "tag:";

    private static final int MOST_TAG = 64;

    private Clips() {}

    /** What becomes of one clip; the very same clip where nothing does. */
    public interface Edit {
        Clip of(Clip clip) throws Refused;
    }

    /**
     * Number of the clip that a name means.
     *
     * @throws Refused where there is none
     */
    public static int number(Asset asset, String name) throws Refused {
        int number = asset.findClip(name);
        if (number < 0) {
            throw new Refused("no.clip", name);
        }
        return number;
    }

    /** @throws Refused where a clip has a name already, or the name is none */
    public static void free(Asset asset, String name) throws Refused {
        if (name.isBlank()) {
            throw new Refused("clip.name.none");
        }
        if (asset.clips().stream().anyMatch(c -> c.name().equals(name))) {
            throw new Refused("clip.name.taken", name);
        }
    }

    /**
     * Numbers of two or more clips that a list of names with commas means, in that order.
     *
     * @throws Refused where one is not there or named twice, is empty, or is the only one
     */
    public static List<Integer> listed(Asset asset, String names) throws Refused {
        List<Integer> out = new ArrayList<>();
        for (String name : names.split(",")) {
            int number = number(asset, name.strip());
            if (out.contains(number)) {
                throw new Refused("clip.twice", name.strip());
            }
            if (asset.clips().get(number).channels().isEmpty()) {
                throw new Refused("clip.empty", name.strip());
            }
            out.add(number);
        }
        if (out.size() < 2) {
            throw new Refused("clip.alone", names);
        }
        return out;
    }

    /**
     * A clip made of others stands behind the last of them, or in place of all.
     *
     * @param keep whether the others stay
     * @throws Refused where its name is that of one that stays
     */
    public static Change inPlaceOf(Asset asset, List<Integer> numbers, Clip made, boolean keep) throws Refused {
        List<Clip> clips = new ArrayList<>();
        int last = numbers.stream().mapToInt(Integer::intValue).max().orElse(-1);
        for (int c = 0; c < asset.clips().size(); c++) {
            if (keep || !numbers.contains(c)) {
                clips.add(asset.clips().get(c));
            }
            if (c == last) {
                clips.add(made);
            }
        }
        free(asset.withClips(clips.stream().filter(c -> c != made).toList()), made.name());
        return Change.of(asset.withClips(clips)).count("clips.made", 1);
    }

    /** Whether a text can be a tag: a word of up to 64 characters, without spaces, commas and control characters. */
    public static boolean isTag(String text) {
        return !text.isEmpty()
                && text.length() <= MOST_TAG
                && text.chars().noneMatch(c -> c <= ' ' || c == ',' || Character.isISOControl(c));
    }

    /** Numbers of the clips that a pattern of names fits, or whose tag it is after {@code tag:}. */
    public static BitSet chosen(Asset asset, String clips) {
        NamePattern pattern = new NamePattern(clips);
        String tag = clips.startsWith(TAG) ? clips.substring(TAG.length()) : "";
        BitSet out = new BitSet();
        for (int c = 0; c < asset.clips().size(); c++) {
            Clip clip = asset.clips().get(c);
            out.set(
                    c,
                    clip.tags().contains(tag)
                            || pattern.fits(clip.name())
                            || pattern.fits(Inventory.clipRef(asset, c)));
        }
        return out;
    }

    /**
     * Changes all clips that are {@link #chosen}; those without channels stay.
     *
     * @throws Refused where it fits none, or one cannot be changed
     */
    public static Change each(Asset asset, String clips, Work work, Edit edit) throws Refused {
        BitSet chosen = chosen(asset, clips);
        if (chosen.isEmpty()) {
            throw new Refused("no.clips", clips);
        }
        List<Clip> out = new ArrayList<>(asset.clips());
        int changed = 0;
        for (int c = chosen.nextSetBit(0); c >= 0; c = chosen.nextSetBit(c + 1)) {
            work.stopIfCancelled();
            Clip clip = out.get(c);
            Clip now = clip.channels().isEmpty() ? clip : edit.of(clip);
            changed += now == clip ? 0 : 1;
            out.set(c, now);
            work.at((c + 1.0) / out.size(), clip.name());
        }
        return Change.of(changed == 0 ? asset : asset.withClips(out)).count("clips.changed", changed);
    }

    /** What a channel moves; that of two channels of one clip is never the same. */
    public record Moved(int node, Channel.Path path, String target, String pointer) {
        public static Moved by(Channel channel) {
            return new Moved(channel.node(), channel.path(), channel.target(), channel.pointer());
        }
    }

    /** Clips played together: the first, with each channel as the last of them has it that has it. */
    public static Clip together(List<Clip> clips) {
        Map<Moved, Channel> channels = new LinkedHashMap<>();
        for (Clip clip : clips) {
            clip.channels().forEach(c -> channels.put(Moved.by(c), c));
        }
        Clip first = clips.getFirst();
        return first.withRate(first.rate()).withChannels(new ArrayList<>(channels.values()));
    }

    /** Frames of a clip, both ends counted, as a sentence says them. */
    public static String range(Clip clip) {
        return clip.firstFrame() + ".." + clip.lastFrame();
    }

    /** @throws Refused where a range of frames is not within the clip's */
    public static void within(Clip clip, int first, int last) throws Refused {
        if (first >= last || first < clip.firstFrame() || last > clip.lastFrame()) {
            throw new Refused("clip.range", clip.name(), first + ".." + last, range(clip));
        }
    }
}
