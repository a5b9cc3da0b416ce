package org.cleanmarrow.steps.skin;

import java.util.BitSet;
import org.cleanmarrow.edit.MeshChoice;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.weights.Smoothing;
import org.cleanmarrow.weights.WeldedWeights;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;

/** Evens the weights of chosen vertices out with those beside them on the surface, across UV seams. */
@StepInfo(name = "smooth-weights", says = "Evens weights out along the surface, across UV seams.")
public record SmoothWeights(
        @Parameter(says = "name of the skinned mesh") String mesh,

        @Parameter(says = "the selected vertices", fallback = "\"all\"")
        VertexSet vertices,

        @Parameter(says = "how far towards the mean of those beside, each round", fallback = "0.5", least = 0, most = 1)
        double strength,

        @Parameter(says = "rounds", fallback = "4", least = 1, most = 100)
        int rounds,

        @Parameter(says = "joints whose weights are not touched, with * and commas between", fallback = "\"\"")
        String locked,

        @Parameter(
                says = "joints a vertex at most; 0 for as many as any vertex of the mesh has now, at least 4",
                fallback = "0",
                least = 0,
                most = 255)
        int most)
        implements Step {
    /** One joint set of glTF, which every receiving side takes. */
    private static final int USUAL = 4;

    /** Without a limit of its own. */
    public SmoothWeights(String mesh, VertexSet vertices, double strength, int rounds, String locked) {
        this(mesh, vertices, strength, rounds, locked, 0);
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (!(strength > 0 && strength <= 1) || rounds < 1 || rounds > 100) {
            throw new Refused("smooth.range", strength, rounds);
        }
        if (most < 0 || most > 255) {
            throw new Refused("limit.range", most);
        }
        MeshChoice choice = new MeshChoice(asset, mesh, vertices, locked);
        WeldedSurface surface = choice.surface();
        BitSet places = WeldedWeights.places(choice.vertices, surface);
        Influences smooth = Smoothing.run(surface, choice.places(), places, p -> strength, rounds, choice.locked);
        int limit = most > 0 ? most : Math.max(USUAL, longest(choice));
        return choice.edited((row, v) -> {
            row.clear();
            row.load(smooth, surface.weldedOf(v));
            if (row.size() > limit) {
                row.keep(limit, choice.locked);
                row.normalise(choice.locked);
            }
            return row.size() > 0;
        });
    }

    private static int longest(MeshChoice choice) {
        return choice.mesh.primitives().stream()
                .filter(p -> p.influences() != null)
                .mapToInt(p -> p.influences().longestRow())
                .max()
                .orElse(0);
    }
}
