package org.cleanmarrow.checks.intake;

import java.util.List;
import java.util.function.ToLongFunction;
import org.cleanmarrow.examination.Budget;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.query.Painted;

/**
 * More of something on what is exported than the target takes.
 *
 * @param counted how many an asset has
 */
public record CountBudget(String id, Budget budget, ToLongFunction<Asset> counted) implements Check {
    /** Each use of a mesh by itself. */
    public static final CountBudget VERTICES = new CountBudget("vertex-budget", Budget.VERTICES, CountBudget::vertices);

    public static final CountBudget MATERIALS = new CountBudget(
            "material-budget", Budget.MATERIALS, a -> Painted.of(a).materials().cardinality());
    public static final CountBudget TEXTURES = new CountBudget(
            "texture-budget", Budget.TEXTURES, a -> Painted.of(a).images().cardinality());

    private static long vertices(Asset asset) {
        return asset.nodes().stream()
                .filter(n -> n.ships() && n.mesh() >= 0)
                .mapToInt(Node::mesh)
                .mapToLong(m -> asset.meshes().get(m).vertexCount())
                .sum();
    }

    @Override
    public Station station() {
        return Station.INTAKE;
    }

    @Override
    public List<Finding> run(Examination examination) {
        long most = (long) examination.target().most(budget);
        long many = counted.applyAsLong(examination.asset());
        return many <= most ? List.of() : List.of(Finding.of(this, Severity.BLOCKER, "", "", many - most, many, most));
    }
}
