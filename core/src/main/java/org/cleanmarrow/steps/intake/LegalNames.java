package org.cleanmarrow.steps.intake;

import java.text.Normalizer;
import java.util.HashSet;
import java.util.Locale;
import java.util.Set;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/** Makes every name one that any engine takes: letters, digits and underscores, not empty, not twice. */
@StepInfo(name = "legal-names", says = "Makes names legal and unique: letters, digits and _ of ASCII, so many at most.")
public record LegalNames(
        @Parameter(says = "most characters a name may have", fallback = "63", least = 8, most = 255)
        int most) implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (most < 8 || most > 255) {
            throw new Refused("names.most", most);
        }
        Change change = Change.of(asset);
        for (Rename.Kind kind : Rename.Kind.values()) {
            Set<String> taken = new HashSet<>();
            Change next = AllNames.renamed(change.asset(), kind, name -> unique(legal(name, kind), taken));
            change = new Change(next.asset(), next.counts(), next.notes()).after(change);
        }
        return change;
    }

    private String legal(String name, Rename.Kind kind) {
        String plain = Normalizer.normalize(name.strip(), Normalizer.Form.NFKD)
                .replaceAll("\\p{M}", "")
                .replaceAll("[^A-Za-z0-9_]+", "_");
        String begun = plain.isEmpty() || plain.equals("_") ? kind.name().toLowerCase(Locale.ROOT) : plain;
        String lettered = Character.isDigit(begun.charAt(0)) ? "_" + begun : begun;
        return lettered.length() > most ? lettered.substring(0, most) : lettered;
    }

    /** Engines often take upper and lower case for the same, so names must differ in more. */
    private String unique(String name, Set<String> taken) {
        String own = name;
        for (int i = 2; !taken.add(own.toLowerCase(Locale.ROOT)); i++) {
            String mark = "_" + i;
            own = name.substring(0, Math.min(name.length(), most - mark.length())) + mark;
        }
        return own;
    }
}
