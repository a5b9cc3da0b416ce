package org.cleanmarrow.steps.intake;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Image;
import org.cleanmarrow.model.TextureUse;
import org.cleanmarrow.naming.NamePattern;
import org.cleanmarrow.picture.PictureHead;
import org.cleanmarrow.picture.Pixels;
import org.cleanmarrow.query.Painted;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/**
 * Pictures at most so large, and of sides that are powers of two where that is asked. Colours are averaged as light, directions
 * keep their unit length, all else is averaged as it is. PNG and JPEG; eight bits a channel afterwards.
 */
@StepInfo(name = "fit-textures", says = "Shrinks pictures to a size, by what they hold.")
public record FitTextures(
        @Parameter(says = "names of the pictures, with * for any run of characters", fallback = "\"*\"")
        String pictures,

        @Parameter(says = "most along the longer side", unit = "pixels", least = 1, most = 8192)
        int pixels,

        @Parameter(says = "sides become the nearest powers of two that fit", fallback = "false")
        boolean powersOfTwo)
        implements Step {

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (pixels < 1 || pixels > 8192) {
            throw new Refused("texture.pixels", pixels);
        }
        NamePattern pattern = new NamePattern(pictures);
        List<Image> images = new ArrayList<>(asset.images());
        long chosen = 0;
        long resized = 0;
        long unread = 0;
        for (int i = 0; i < images.size(); i++) {
            work.stopIfCancelled();
            work.at(i / (double) images.size(), "");
            if (!pattern.fits(Painted.name(asset, i))) {
                continue;
            }
            chosen++;
            Image image = images.get(i);
            byte[] bytes = image.bytes();
            Optional<PictureHead> head = bytes == null ? Optional.empty() : PictureHead.of(bytes);
            if (bytes == null || head.isEmpty() || !Pixels.isReadable(bytes)) {
                unread++;
                continue;
            }
            double scale = Math.min(
                    1, pixels / (double) Math.max(head.get().width(), head.get().height()));
            int width = side(head.get().width() * scale);
            int height = side(head.get().height() * scale);
            if (width == head.get().width() && height == head.get().height()) {
                continue;
            }
            Optional<byte[]> smaller = Pixels.resized(bytes, width, height, kind(asset, i));
            if (smaller.isEmpty()) {
                unread++;
                continue;
            }
            images.set(i, new Image(image.name(), head.get().mimeType(), image.uri(), smaller.get(), image.carried()));
            resized++;
        }
        if (chosen == 0) {
            throw new Refused("texture.none", pictures);
        }
        return Change.of(resized == 0 ? asset : asset.withPictures(asset.materials(), asset.textures(), images))
                .count("pictures.resized", resized)
                .count("pictures.unread", unread);
    }

    private int side(double length) {
        int whole = Math.max(1, (int) Math.round(length));
        if (!powersOfTwo) {
            return whole;
        }
        int below = Integer.highestOneBit(whole);
        boolean up = 2L * below <= pixels && whole / (double) below > Math.sqrt(2);
        return up ? 2 * below : below;
    }

    private static Pixels.Kind kind(Asset asset, int image) {
        List<TextureUse> uses = Painted.uses(asset, image);
        if (uses.stream().anyMatch(TextureUse::isNormal)) {
            return Pixels.Kind.NORMALS;
        }
        return uses.stream().allMatch(TextureUse::isColour) ? Pixels.Kind.COLOUR : Pixels.Kind.DATA;
    }
}
