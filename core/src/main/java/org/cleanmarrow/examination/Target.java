package org.cleanmarrow.examination;

import java.util.EnumMap;
import java.util.Map;
import java.util.Optional;
import org.cleanmarrow.convention.Conventions;

/**
 * What the receiving side expects. {@link org.cleanmarrow.checks.TargetJson} is its file.
 *
 * @param name    as the user names it
 * @param budgets the limits that are set
 */
public record Target(String name, Conventions conventions, Map<Budget, Double> budgets, Rules rules) {
    /** Influences a vertex that every receiving side takes (glTF 2.0, 3.7.3.3: one set of four must be supported). */
    public static final int USUAL_INFLUENCES = 4;

    public Target {
        budgets = Map.copyOf(budgets);
    }

    /** A target of the usual influences, named by its conventions. */
    public static Target of(Conventions conventions) {
        return new Target(conventions.code(), conventions, Map.of(), Rules.NONE);
    }

    /** A target by the name of its conventions, such as {@code z-up-cm-lh}. */
    public static Optional<Target> named(String name) {
        return Conventions.parse(name).map(c -> new Target(name, c, Map.of(), Rules.NONE));
    }

    /** The limit of a budget; endless where none is set, but for influences. */
    public double most(Budget budget) {
        Double set = budgets.get(budget);
        return set != null ? set : budget == Budget.INFLUENCES ? USUAL_INFLUENCES : Double.POSITIVE_INFINITY;
    }

    /** Influences a vertex at most. */
    public int influences() {
        return (int) most(Budget.INFLUENCES);
    }

    /** The same with a limit; an endless one takes it away. */
    public Target with(Budget budget, double limit) {
        Map<Budget, Double> changed = new EnumMap<>(Budget.class);
        changed.putAll(budgets);
        if (limit == Double.POSITIVE_INFINITY) {
            changed.remove(budget);
        } else {
            changed.put(budget, limit);
        }
        return new Target(name, conventions, changed, rules);
    }

    /** The same under another name. */
    public Target called(String other) {
        return new Target(other, conventions, budgets, rules);
    }

    public Target with(Rules changed) {
        return new Target(name, conventions, budgets, changed);
    }

    /** False where the target does not want a check run. */
    public boolean wants(Check check) {
        Optional<Severity> own = rules.gravity().get(check.id());
        return own == null || own.isPresent();
    }

    /** A finding as grave as the target has it. */
    public Finding weighed(Finding finding) {
        Optional<Severity> own = rules.gravity().get(finding.check());
        return own == null || own.isEmpty() ? finding : finding.as(own.get());
    }
}
