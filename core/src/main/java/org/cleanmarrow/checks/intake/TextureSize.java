package org.cleanmarrow.checks.intake;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.cleanmarrow.examination.Budget;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.naming.NamePattern;
import org.cleanmarrow.picture.PictureHead;
import org.cleanmarrow.picture.Pixels;
import org.cleanmarrow.query.Painted;
import org.cleanmarrow.steps.intake.FitTextures;

/** Pictures larger than the target takes, and those whose sides are no powers of two, which some engines resize. */
public final class TextureSize implements Check {
    @Override
    public String id() {
        return "texture-size";
    }

    @Override
    public Station station() {
        return Station.INTAKE;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        int most = (int) Math.min(Integer.MAX_VALUE, examination.target().most(Budget.TEXTURE_SIDE));
        List<Finding> out = new ArrayList<>();
        examination.painted().images().stream().forEach(i -> {
            byte[] bytes = asset.images().get(i).bytes();
            Optional<PictureHead> head = bytes == null ? Optional.empty() : PictureHead.of(bytes);
            if (bytes == null || head.isEmpty()) {
                return;
            }
            int width = head.get().width();
            int height = head.get().height();
            String name = Painted.name(asset, i);
            if (Math.max(width, height) > most) {
                Finding large = Finding.of(this, Severity.BLOCKER, "large", name, 1, name, width, height, most);
                out.add(
                        Pixels.isReadable(bytes)
                                ? large.fixedBy(new FitTextures(NamePattern.exactly(name), most, false))
                                : large);
            } else if (Integer.bitCount(width) != 1 || Integer.bitCount(height) != 1) {
                out.add(Finding.of(this, Severity.NOTE, "powers", name, 1, name, width, height));
            }
        });
        return out;
    }
}
