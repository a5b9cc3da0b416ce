package org.cleanmarrow.steps.collision;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.Filter;
import org.cleanmarrow.collision.Overlaps;
import org.cleanmarrow.collision.Parting;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.text.Length;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/**
 * Parts collision shapes that lie in each other at rest or in any clip, or lets them pass through each other. Which shapes are
 * looked at: {@link Overlaps}.
 */
@StepInfo(
        name = "shapes-apart",
        says = "Parts neighbouring collision shapes that overlap at rest or in a clip, or lets them ignore each other.")
public record ShapesApart(
        @Parameter(
                says =
                        "shrink draws both in from the side that faces the other; ignore lets them pass through each other",
                fallback = "\"shrink\"")
        By by)
        implements Step {
    /** How. */
    public enum By {
        SHRINK,
        IGNORE
    }

    private static final int A_FRAME = 4;

    public ShapesApart() {
        this(By.SHRINK);
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (Bodies.colliders(asset).isEmpty()) {
            throw new Refused("shapes.none");
        }
        Parting parting = by == By.SHRINK ? Parting.of(asset, work) : ignoring(asset, work);
        if (parting.parted().isEmpty()) {
            throw new Refused("shapes.apart.already");
        }
        Overlaps.Overlap worst = parting.parted().getFirst();
        List<Collider> colliders = Bodies.colliders(asset);
        double metres = asset.conventions().metresPerUnit();
        Change change = Change.of(parting.asset())
                .count(
                        by == By.SHRINK ? "shapes.parted" : "shapes.ignored",
                        parting.parted().size() - parting.left().size())
                .note(
                        "shapes.worst",
                        Bodies.name(asset, colliders.get(worst.pair().a())),
                        Bodies.name(asset, colliders.get(worst.pair().b())),
                        new Length(worst.depth() * metres),
                        worst.clip() < 0
                                ? "rest"
                                : asset.clips().get(worst.clip()).name(),
                        worst.seconds());
        if (by == By.SHRINK) {
            change = change.note("shapes.lost", 100 * parting.lost());
        }
        return parting.left().isEmpty()
                ? change
                : change.note(
                        "shapes.left",
                        parting.left().size(),
                        Bodies.name(
                                asset,
                                colliders.get(parting.left().getFirst().pair().a())),
                        Bodies.name(
                                asset,
                                colliders.get(parting.left().getFirst().pair().b())));
    }

    private static Parting ignoring(Asset asset, Work work) {
        List<Overlaps.Overlap> found = new Overlaps(asset).worst(A_FRAME, work);
        List<Collider> all = new ArrayList<>(Bodies.colliders(asset));
        for (Overlaps.Overlap overlap : found) {
            Collider a = all.get(overlap.pair().a());
            Collider b = all.get(overlap.pair().b());
            all.set(overlap.pair().a(), passing(a, Bodies.name(asset, a), Bodies.name(asset, b)));
            all.set(overlap.pair().b(), passing(b, Bodies.name(asset, b), Bodies.name(asset, a)));
        }
        return new Parting(Parting.with(asset, all), found, List.of(), 0);
    }

    private static Collider passing(Collider c, String own, String other) {
        List<String> systems = new ArrayList<>(c.filter().systems());
        List<String> ignores = new ArrayList<>(c.filter().ignores());
        if (!systems.contains(own)) {
            systems.add(own);
        }
        if (!ignores.contains(other)) {
            ignores.add(other);
        }
        return c.withFilter(new Filter(systems, c.filter().meets(), ignores));
    }
}
