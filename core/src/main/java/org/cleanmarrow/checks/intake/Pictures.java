package org.cleanmarrow.checks.intake;

import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.WeakHashMap;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Image;
import org.cleanmarrow.model.TextureUse;
import org.cleanmarrow.picture.PictureHead;
import org.cleanmarrow.picture.Pixels;
import org.cleanmarrow.query.Painted;

/**
 * Pictures that are not there, that are of no kind known here, or that are shown as something else than they hold: one as both
 * colour and data, directions as a colour, a colour as directions (glTF 2.0, 3.9.2 and 3.9.3: the slot decides how a picture is read).
 */
public final class Pictures implements Check {
    /** Eight bits and a lossy encoding put directions off their length by no more. */
    private static final double OFF_UNIT = 0.12;
    /** Of the pixels that are directions out of the surface: in a picture of such, and in any other. */
    private static final double MOST = 0.95;

    private static final double LEAST = 0.5;

    /** Pixels looked at along each side. */
    private static final int SOUNDED = 64;

    private enum Likeness {
        DIRECTIONS,
        OTHER,
        NOT_KNOWN
    }

    /** By encoded pictures, which never change. */
    private static final Map<byte[], Likeness> LIKENESS = Collections.synchronizedMap(new WeakHashMap<>());

    @Override
    public String id() {
        return "pictures";
    }

    @Override
    public Station station() {
        return Station.INTAKE;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        List<Finding> out = new ArrayList<>();
        examination.painted().images().stream()
                .mapToObj(i -> variant(asset, i).map(v -> {
                    String name = Painted.name(asset, i);
                    return Finding.of(this, Severity.CAUTION, v, name, 1, name);
                }))
                .flatMap(Optional::stream)
                .forEach(out::add);
        return out;
    }

    private static Optional<String> variant(Asset asset, int number) {
        Image image = asset.images().get(number);
        if (image.bytes() == null) {
            return Optional.of("missing");
        }
        if (PictureHead.of(image.bytes()).isEmpty()) {
            return Optional.of("unknown");
        }
        List<TextureUse> uses = Painted.uses(asset, number);
        boolean colour = uses.stream().anyMatch(TextureUse::isColour);
        if (colour && !uses.stream().allMatch(TextureUse::isColour)) {
            return Optional.of("both");
        }
        boolean normals = uses.stream().anyMatch(TextureUse::isNormal);
        if (!colour && !normals) {
            return Optional.empty();
        }
        Likeness likeness = LIKENESS.computeIfAbsent(image.bytes(), Pictures::likeness);
        if (colour && likeness == Likeness.DIRECTIONS) {
            return Optional.of("directions");
        }
        return normals && likeness == Likeness.OTHER ? Optional.of("no-directions") : Optional.empty();
    }

    private static Likeness likeness(byte[] picture) {
        Optional<int[]> pixels = Pixels.some(picture, SOUNDED).map(Pixels.Some::argb);
        if (pixels.isEmpty()) {
            return Likeness.NOT_KNOWN;
        }
        int unit = 0;
        for (int argb : pixels.get()) {
            double x = (argb >> 16 & 0xFF) / 127.5 - 1;
            double y = (argb >> 8 & 0xFF) / 127.5 - 1;
            double z = (argb & 0xFF) / 127.5 - 1;
            unit += z > 0 && Math.abs(Math.sqrt(x * x + y * y + z * z) - 1) < OFF_UNIT ? 1 : 0;
        }
        double share = unit / (double) pixels.get().length;
        return share > MOST ? Likeness.DIRECTIONS : share < LEAST ? Likeness.OTHER : Likeness.NOT_KNOWN;
    }
}
