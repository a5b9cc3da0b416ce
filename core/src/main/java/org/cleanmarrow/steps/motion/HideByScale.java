package org.cleanmarrow.steps.motion;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.cleanmarrow.edit.Carrier;
import org.cleanmarrow.edit.Clips;
import org.cleanmarrow.edit.FrameRanges;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.edit.Timing;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Extras;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Hides a part over frames of a clip by keys of scale 0, and shows it by keys of scale 1, with steps between (glTF 2.0,
 * 3.5.3: a scale of zero animates visibility). What hangs below the part keeps its size: where there is anything, or the
 * part's scale has keys already, a node of its own is put in to carry the part.
 */
@StepInfo(
        name = "hide-by-scale",
        says = "Hides a part over frames of a clip by keys of scale 0; shown, it is at scale 1.")
public record HideByScale(
        @Parameter(says = "node of the part, or the joint that moves it")
        String part,

        @Parameter(says = "name of the clip") String clip,

        @Parameter(
                says = "frames over which it is hidden, such as 0..11, 40..52; empty: as the file says it is visible",
                fallback = "\"\"")
        String ranges)
        implements Step {
    private static final String VISIBILITY = "KHR_node_visibility";

    /** When it is shown and when not, from each time on. */
    private record Shown(float[] times, boolean[] shown) {}

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        int node = Names.node(asset, part);
        int number = Clips.number(asset, clip);
        Clip was = asset.clips().get(number);
        if (was.channels().isEmpty()) {
            throw new Refused("hide.still", clip);
        }
        Channel pointed = ranges.isBlank() ? pointer(was, node) : null;
        Shown shown = ranges.isBlank() ? said(asset, node, was, pointed) : typed(was);
        Carrier carrier = Carrier.of(
                asset,
                node,
                n -> was.channels().stream().noneMatch(c -> c.node() == n && c.path() == Channel.Path.SCALE));
        float[] size = carrier.asset().nodes().get(carrier.node()).local().scale();
        float[] values = new float[shown.times.length * 3];
        for (int k = 0; k < shown.times.length; k++) {
            for (int i = 0; i < 3; i++) {
                values[k * 3 + i] = shown.shown[k] ? size[i] : 0;
            }
        }
        Sampler keys = new Sampler(Sampler.Interpolation.STEP, shown.times, values, 3, Storage.FLOAT);
        List<Clip> clips = new ArrayList<>(carrier.asset().clips());
        List<Channel> channels = new ArrayList<>(clips.get(number).channels());
        channels.remove(pointed);
        channels.add(new Channel(carrier.node(), Channel.Path.SCALE, keys, "", Passthrough.NONE));
        clips.set(number, clips.get(number).withChannels(channels).withRate(was.rate()));
        Asset keyed = carrier.asset().withClips(clips);
        Asset out = pointed == null ? keyed : withoutVisibility(keyed, node);
        Change change = Change.of(out).count("visibility.keys", shown.times.length);
        return carrier.added() ? change.note("hide.carrier", carrier.asset().nodeRef(carrier.node())) : change;
    }

    /** Where keys of scale say it from now on, a node that begins hidden would stay so for ever. */
    private static Asset withoutVisibility(Asset asset, int node) {
        Passthrough carried = asset.nodes().get(node).carried();
        if (carried.extension(VISIBILITY).isMissingNode()) {
            return asset;
        }
        ObjectNode json = (ObjectNode) carried.read();
        ObjectNode extensions = (ObjectNode) json.path("extensions");
        extensions.remove(VISIBILITY);
        if (extensions.isEmpty()) {
            json.remove("extensions");
        }
        List<Node> nodes = new ArrayList<>(asset.nodes());
        nodes.set(
                node,
                nodes.get(node).withCarried(json.isEmpty() ? Passthrough.NONE : new Passthrough(json.toString())));
        return asset.withNodes(nodes);
    }

    private Shown typed(Clip was) throws Refused {
        int first = was.firstFrame();
        boolean[] hidden = new boolean[was.lastFrame() - first + 1];
        for (FrameRanges.Range range : FrameRanges.unnamed(ranges)) {
            if (range.first() > range.last() || range.first() < first || range.last() > was.lastFrame()) {
                throw new Refused("hide.range", clip, range.first() + ".." + range.last(), Clips.range(was));
            }
            Arrays.fill(hidden, range.first() - first, range.last() - first + 1, true);
        }
        float[] times = new float[hidden.length];
        boolean[] shown = new boolean[hidden.length];
        int keys = 0;
        for (int f = 0; f < hidden.length; f++) {
            if (f == 0 || hidden[f] != hidden[f - 1]) {
                times[keys] = (float) Timing.seconds(was, first + f);
                shown[keys++] = !hidden[f];
            }
        }
        return new Shown(Arrays.copyOf(times, keys), Arrays.copyOf(shown, keys));
    }

    /** As the file has it: keys of the node's visibility, or hidden throughout. */
    private Shown said(Asset asset, int node, Clip was, @Nullable Channel pointed) throws Refused {
        if (pointed != null) {
            Sampler s = pointed.sampler();
            boolean[] shown = new boolean[s.times().length];
            for (int k = 0; k < shown.length; k++) {
                shown[k] = s.values()[k * s.stride()] != 0;
            }
            return new Shown(s.times(), shown);
        }
        Passthrough carried = asset.nodes().get(node).carried();
        boolean hidden =
                isFalse(carried.extension(VISIBILITY).path("visible")) || isFalse(Extras.of(carried, "visible"));
        if (!hidden) {
            throw new Refused("hide.nothing.said", part);
        }
        return new Shown(new float[] {(float) was.start()}, new boolean[] {false});
    }

    private static boolean isFalse(JsonNode value) {
        return value.isBoolean() && !value.booleanValue() || value.isNumber() && value.doubleValue() == 0;
    }

    /** The channel that animates a node's visibility by pointing at it, where there is one. */
    private static @Nullable Channel pointer(Clip clip, int node) {
        String visible = "/nodes/" + node + "/extensions/" + VISIBILITY + "/visible";
        return clip.channels().stream()
                .filter(c -> c.pointer().equals(visible) && c.track() instanceof Sampler)
                .findFirst()
                .orElse(null);
    }
}
