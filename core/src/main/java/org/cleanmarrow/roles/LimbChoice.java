package org.cleanmarrow.roles;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.joml.Vector3d;

/** Which two pairs of like chains are a body's legs and arms, and what lies between and beyond them. */
final class LimbChoice {
    private static final Set<String> WING_WORDS = RoleGuess.vocabulary("kind.wing");
    private static final Set<String> PAW_WORDS = RoleGuess.vocabulary("kind.paw");
    private static final Set<String> LEG_WORDS = RoleGuess.vocabulary("kind.leg");
    private static final Set<String> ARM_WORDS = RoleGuess.vocabulary("kind.arm");

    private final JointTree tree;
    private final Map<Role, RoleGuess.Guess> named;

    LimbChoice(JointTree tree, Map<Role, RoleGuess.Guess> named) {
        this.tree = tree;
        this.named = named;
    }

    /**
     * The limbs of a body.
     *
     * @param legs  hind legs of an animal
     * @param arms  fore legs or wings of an animal
     * @param trunk joints from where the legs hang to where the arms do
     * @param neck  joints beyond the arms, away from the legs, with the head; empty where there are none
     */
    record Limbs(JointTree.Pair legs, JointTree.Pair arms, List<Integer> trunk, List<Integer> neck) {}

    /** The two pairs that are legs and arms most plausibly; empty where no two will do. */
    Optional<Limbs> best() {
        List<JointTree.Pair> all = tree.pairs();
        double longest = all.isEmpty() ? 0 : all.getFirst().length();
        List<JointTree.Pair> some = all.stream()
                .filter(p -> p.length() > 0.2 * longest)
                .filter(p -> all.stream().noneMatch(o -> o != p && o.length() > p.length() && tree.isIn(p.branch(), o)))
                .limit(8)
                .toList();
        double best = Double.NEGATIVE_INFINITY;
        Limbs found = null;
        for (JointTree.Pair p : some) {
            for (JointTree.Pair q : some) {
                boolean apart = p != q
                        && !tree.isIn(q.branch(), p)
                        && !tree.isIn(p.branch(), q)
                        && p.one().getFirst() != (int) q.one().getFirst()
                        && p.one().getFirst() != (int) q.other().getFirst()
                        && p.other().getFirst() != (int) q.one().getFirst()
                        && p.other().getFirst() != (int) q.other().getFirst();
                if (!apart || tree.path(p.branch(), q.branch()).isEmpty()) {
                    continue;
                }
                double score = score(p, q);
                if (score > best) {
                    best = score;
                    found = new Limbs(p, q, tree.path(p.branch(), q.branch()), neck(p, q));
                }
            }
        }
        return Optional.ofNullable(found);
    }

    /** How plausible it is that the first pair are the legs and the second arms, front legs or wings. */
    private double score(JointTree.Pair p, JointTree.Pair q) {
        double score = 0;
        int down = tree.depth[p.branch()] - tree.depth[q.branch()];
        score += down < 0 ? 1.5 : down == 0 ? 0 : -1;
        int toes = Math.min(5, tree.leaves(p.one().getFirst()));
        int fingers = Math.min(5, tree.leaves(q.one().getFirst()));
        score += 0.3 * (fingers - toes);
        score -= Math.abs(Math.log(p.length() / q.length() / 1.2));
        score += Math.min(1.5, votes(p, LEG_WORDS) + votes(q, ARM_WORDS));
        score -= Math.min(1.5, votes(p, ARM_WORDS) + votes(q, LEG_WORDS));
        score += votes(q, WING_WORDS) - votes(p, WING_WORDS);
        score += neck(p, q).isEmpty() ? -1.5 : 0;
        // Longer limbs are likelier to be limbs than ears, tails of a coat and pigtails are.
        score += 1.5 * Math.log(Math.min(p.length(), q.length()) / Math.max(1e-9, span()));
        return score;
    }

    private double span() {
        double most = 0;
        for (int n : tree.joints) {
            most = Math.max(most, tree.at[n].distance(tree.at[tree.joints.getFirst()]));
        }
        return most;
    }

    private double votes(JointTree.Pair pair, Set<String> words) {
        return votes(pair.one(), words);
    }

    /** A vote of the names in a chain. */
    private double votes(List<Integer> chain, Set<String> words) {
        return chain.stream()
                        .anyMatch(n -> RoleGuess.split(tree.name(n)).stream().anyMatch(words::contains))
                ? 0.75
                : 0;
    }

    /** How far names speak of wings. */
    double wings(Limbs limbs) {
        return votes(limbs.arms, WING_WORDS) + votes(limbs.neck, WING_WORDS);
    }

    /** How far names speak of paws. */
    double paws(Limbs limbs) {
        return votes(limbs.arms, PAW_WORDS) + votes(limbs.legs, PAW_WORDS);
    }

    /** Joints beyond the arms, away from the legs: neck and head; the longest chain that is neither limb nor trunk. */
    private List<Integer> neck(JointTree.Pair p, JointTree.Pair q) {
        List<Integer> way = tree.path(p.branch(), q.branch());
        Vector3d across =
                new Vector3d(tree.at[q.one().getFirst()]).sub(tree.at[q.other().getFirst()]);
        Vector3d legTip = new Vector3d(tree.at[p.one().getLast()])
                .add(tree.at[p.other().getLast()])
                .mul(0.5);
        Vector3d away = new Vector3d(tree.at[q.branch()]).sub(legTip);
        List<Integer> best = List.of();
        double most = 0;
        for (int c : tree.children.get(q.branch())) {
            boolean taken = way.contains(c)
                    || q.one().getFirst() == c
                    || q.other().getFirst() == c
                    || p.one().getFirst() == c
                    || p.other().getFirst() == c;
            if (taken) {
                continue;
            }
            List<Integer> chain = tree.chain(c);
            Vector3d to = new Vector3d(tree.at[chain.getLast()]).sub(tree.at[q.branch()]);
            // In the middle, and on from the trunk; names may say so too.
            double middle = Math.abs(to.dot(across)) / Math.max(1e-12, to.length() * across.length());
            double on = to.dot(away) / Math.max(1e-12, to.length() * away.length());
            boolean saidSo = chain.stream()
                    .anyMatch(n ->
                            named.containsKey(Role.HEAD) && named.get(Role.HEAD).node() == n);
            double worth =
                    (saidSo ? 10 : 0) + on - middle + 0.2 * Math.min(1, to.length() / Math.max(1e-12, q.length()));
            if ((on > 0.2 || saidSo) && middle < 0.35 && worth > most) {
                most = worth;
                best = chain;
            }
        }
        return best;
    }
}
