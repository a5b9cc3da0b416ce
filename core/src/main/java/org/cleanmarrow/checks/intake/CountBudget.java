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

/**
 * More of something on what is exported than the target takes.
 *
 * @param counted how many there are
 */
public record CountBudget(String id, Budget budget, ToLongFunction<Examination> counted) implements Check {
    /** Each use of a mesh by itself. */
    public static final CountBudget VERTICES = new CountBudget("vertex-budget", Budget.VERTICES, CountBudget::vertices);

    public static final CountBudget MATERIALS = new CountBudget(
            "material-budget", Budget.MATERIALS, e -> e.painted().materials().cardinality());
    public static final CountBudget TEXTURES = new CountBudget(
            "texture-budget", Budget.TEXTURES, e -> e.painted().images().cardinality());

    private static long vertices(Examination examination) {
        Asset asset = examination.asset();
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
        long many = counted.applyAsLong(examination);
        return many <= most ? List.of() : List.of(Finding.of(this, Severity.BLOCKER, "", "", many - most, many, most));
    }
}
