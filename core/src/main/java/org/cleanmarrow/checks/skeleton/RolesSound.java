package org.cleanmarrow.checks.skeleton;

import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.stream.Collectors;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.roles.Role;
import org.cleanmarrow.roles.RoleGuess;
import org.cleanmarrow.roles.Roles;
import org.cleanmarrow.steps.skeleton.SetRoles;
import org.joml.Vector3d;

/**
 * Roles that a body needs and that no joint has, that hang in the wrong place, stand on the wrong side, or are given twice
 * (VRMC_vrm-1.0, humanoid.md). An asset in which no joint has a role is no body, and fine.
 */
public final class RolesSound implements Check {
    @Override
    public String id() {
        return "roles";
    }

    @Override
    public Station station() {
        return Station.SKELETON;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        Map<Role, List<Integer>> roles = Roles.of(asset);
        if (roles.isEmpty()) {
            return List.of();
        }
        Map<Role, RoleGuess.Guess> guess = RoleGuess.of(asset);
        List<Finding> out = new ArrayList<>();
        missing(asset, roles, guess, out);
        twice(asset, roles, guess, out);
        roles.forEach((role, nodes) -> {
            misplaced(asset, roles, role, nodes.getFirst(), guess, out);
            crossed(examination, role, nodes.getFirst(), guess, out);
        });
        return out;
    }

    /** Roles as they are, with some of them as guessed. */
    private static SetRoles mended(
            Asset asset, Map<Role, List<Integer>> roles, Map<Role, RoleGuess.Guess> guess, List<Role> wrong) {
        Map<Role, Integer> out = new EnumMap<>(Role.class);
        roles.forEach((role, nodes) -> out.put(role, nodes.getFirst()));
        for (Role role : wrong) {
            out.remove(role);
            RoleGuess.Guess right = guess.get(role);
            if (right != null) {
                out.values().removeIf(n -> n == right.node());
                out.put(role, right.node());
            }
        }
        return SetRoles.of(asset, out);
    }

    private void missing(
            Asset asset, Map<Role, List<Integer>> roles, Map<Role, RoleGuess.Guess> guess, List<Finding> out) {
        List<Role> nowhere = new ArrayList<>();
        List<Role> there = new ArrayList<>();
        for (Role role : Role.values()) {
            boolean body = role.required() || role == Role.CHEST || role == Role.NECK;
            if (body && !roles.containsKey(role)) {
                if (guess.containsKey(role)) {
                    there.add(role);
                } else if (role.required()) {
                    nowhere.add(role);
                }
            }
        }
        for (Role role : there) {
            int node = Objects.requireNonNull(guess.get(role)).node();
            out.add(Finding.of(
                            this,
                            role.required() ? Severity.BLOCKER : Severity.CAUTION,
                            "present",
                            asset.nodeRef(node),
                            1,
                            role.code(),
                            asset.nodeRef(node))
                    .at(Finding.Place.node(node))
                    .fixedBy(mended(asset, roles, guess, there)));
        }
        if (!nowhere.isEmpty()) {
            String names = nowhere.stream().map(Role::code).collect(Collectors.joining(", "));
            out.add(Finding.of(this, Severity.BLOCKER, "missing", "", nowhere.size(), nowhere.size(), names));
        }
    }

    private void twice(
            Asset asset, Map<Role, List<Integer>> roles, Map<Role, RoleGuess.Guess> guess, List<Finding> out) {
        for (int n = 0; n < asset.nodes().size(); n++) {
            List<Role> own = Roles.of(asset.nodes().get(n));
            if (own.size() > 1) {
                String names = own.stream().map(Role::code).collect(Collectors.joining(", "));
                out.add(Finding.of(
                                this,
                                Severity.BLOCKER,
                                "repeated",
                                asset.nodeRef(n),
                                own.size(),
                                asset.nodeRef(n),
                                own.size(),
                                names)
                        .at(Finding.Place.node(n))
                        .fixedBy(mended(asset, roles, guess, own)));
            }
        }
        roles.forEach((role, nodes) -> {
            if (nodes.size() > 1) {
                String names = nodes.stream().map(asset::nodeRef).collect(Collectors.joining(", "));
                out.add(Finding.of(
                                this,
                                Severity.BLOCKER,
                                "doubled",
                                role.code(),
                                nodes.size(),
                                nodes.size(),
                                role.code(),
                                names)
                        .at(Finding.Place.node(nodes.getFirst()))
                        .fixedBy(mended(asset, roles, guess, List.of(role))));
            }
        });
    }

    private void misplaced(
            Asset asset,
            Map<Role, List<Integer>> roles,
            Role role,
            int node,
            Map<Role, RoleGuess.Guess> guess,
            List<Finding> out) {
        Role up = role.parent();
        while (up != null && !roles.containsKey(up)) {
            up = up.parent();
        }
        if (up == null) {
            return;
        }
        int above = Objects.requireNonNull(roles.get(up)).getFirst();
        int[] parents = asset.parents();
        int at = parents[node];
        while (at >= 0 && at != above) {
            at = parents[at];
        }
        if (at != above) {
            out.add(Finding.of(
                            this,
                            Severity.BLOCKER,
                            "misplaced",
                            asset.nodeRef(node),
                            1,
                            role.code(),
                            asset.nodeRef(node),
                            up.code(),
                            asset.nodeRef(above))
                    .at(Finding.Place.node(node))
                    .fixedBy(mended(asset, roles, guess, List.of(role))));
        }
    }

    private void crossed(
            Examination examination, Role role, int node, Map<Role, RoleGuess.Guess> guess, List<Finding> out) {
        Asset asset = examination.asset();
        Map<Role, List<Integer>> roles = Roles.of(asset);
        if (role.side() <= 0 || !roles.containsKey(role.twin())) {
            return;
        }
        int other = roles.get(role.twin()).getFirst();
        Vector3d left = examination.body().frame().left();
        double here = examination.world()[node].getTranslation(new Vector3d()).dot(left);
        double there = examination.world()[other].getTranslation(new Vector3d()).dot(left);
        if (here < there - 1e-6) {
            out.add(Finding.of(
                            this, Severity.BLOCKER, "crossed", asset.nodeRef(node), 1, asset.nodeRef(node), role.code())
                    .at(Finding.Place.node(node))
                    .fixedBy(mended(asset, roles, guess, List.of(role, role.twin()))));
        }
    }
}
