package org.cleanmarrow.roles;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.ResourceBundle;
import java.util.Set;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.pose.Rig;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.jspecify.annotations.Nullable;

/**
 * What names say of roles: from what joints are called, how they hang together, and where they are. Names are taken apart into words;
 * words of the trade, of H-Anim (ISO/IEC 19774-1) and of several languages say which part of the body is meant. What a
 * word leaves open (a shoulder may be the collar bone or the upper arm, a leg its upper or lower half) is settled by what
 * else is in the same chain.
 */
public final class RoleGuess {
    private static final ResourceBundle VOCABULARY =
            ResourceBundle.getBundle("org.cleanmarrow.roles.vocabulary", Locale.ROOT);

    private static final Map<String, Part> WORDS = new HashMap<>();

    /** Joints that serve others and have no role of their own. */
    private static final Set<String> SERVANTS = vocabulary("servant");

    private static final Set<String> LEFT = vocabulary("left");
    private static final Set<String> RIGHT = vocabulary("right");

    /** Parts of a body, without their side. */
    private enum Part {
        HIPS,
        TORSO,
        NECK,
        HEAD,
        EYE,
        JAW,
        COLLAR,
        SHOULDER,
        ARM,
        UPPER_ARM,
        LOWER_ARM,
        HAND,
        HIP,
        LEG,
        UPPER_LEG,
        LOWER_LEG,
        FOOT,
        TOES,
        THUMB,
        INDEX,
        MIDDLE,
        RING,
        LITTLE
    }

    static {
        for (Part part : Part.values()) {
            vocabulary(part.name().toLowerCase(Locale.ROOT)).forEach(word -> WORDS.put(word, part));
        }
    }

    /** Words of a kind, as the bundle beside this class lists them. */
    static Set<String> vocabulary(String kind) {
        return Set.of(VOCABULARY.getString(kind).strip().split("\\s*,\\s*"));
    }

    /**
     * A joint for a role.
     *
     * @param confidence 0 to 1: 1 where the name says it, less where chain or place had to
     */
    public record Guess(int node, double confidence) {}

    /** What a name says. */
    private record Said(int node, Part part, int side, int number, int depth) {}

    private final Asset asset;
    private final int[] parents;
    private final int[] depth;
    private final Matrix4d[] world;
    private final List<Said> said = new ArrayList<>();
    private boolean handAlone;
    private final Map<Role, Guess> out = new EnumMap<>(Role.class);

    private RoleGuess(Asset asset) {
        this.asset = asset;
        parents = asset.parents();
        depth = new int[parents.length];
        world = new Rig(asset).rest().world();
        for (int n : asset.topDown()) {
            depth[n] = parents[n] < 0 ? 0 : depth[parents[n]] + 1;
        }
    }

    /** The roles that can be guessed, from shape and names together ({@link Body}); those that cannot are not there. */
    public static Map<Role, Guess> of(Asset asset) {
        return Body.of(asset).roles();
    }

    /** What names alone say. */
    static Map<Role, Guess> ofNames(Asset asset) {
        return new RoleGuess(asset).run();
    }

    /** +1 where a name says left, -1 right, 0 neither. */
    static int sideOf(String name) {
        List<String> words = split(name);
        int side = words.stream().anyMatch(LEFT::contains) ? 1 : 0;
        return side - (words.stream().anyMatch(RIGHT::contains) ? 1 : 0);
    }

    private Map<Role, Guess> run() {
        boolean[] joint = asset.jointFlags();
        for (int n = 0; n < joint.length; n++) {
            if (joint[n]) {
                Said one = said(n);
                if (one != null) {
                    said.add(one);
                }
            }
        }
        handAlone =
                said.stream().noneMatch(s -> isMiddle(s.part) || s.part.name().contains("LEG") || s.part == Part.FOOT)
                        && said.stream().anyMatch(s -> s.part == Part.THUMB);
        middle();
        for (int side = 1; side >= -1; side -= 2) {
            arm(side);
            leg(side);
            fingers(side);
        }
        face();
        out.entrySet().removeIf(e -> !hangsRight(e.getKey()));
        return out;
    }

    private @Nullable Said said(int n) {
        List<String> words = split(asset.nodes().get(n).name());
        int side = 0;
        int number = 0;
        StringBuilder rest = new StringBuilder();
        List<String> plain = new ArrayList<>();
        for (String word : words) {
            if (SERVANTS.contains(word)) {
                return null;
            }
            if (LEFT.contains(word)) {
                side = 1;
            } else if (RIGHT.contains(word)) {
                side = -1;
            } else if (word.matches("\\d+")) {
                number = word.length() < 6 ? Integer.parseInt(word) : 0;
            } else {
                plain.add(word);
                rest.append(word);
            }
        }
        Part part = WORDS.get(rest.toString());
        // Two words together say more than one: upper arm before arm; otherwise the last that is known.
        for (int i = plain.size() - 2; part == null && i >= 0; i--) {
            part = WORDS.get(plain.get(i) + plain.get(i + 1));
        }
        for (int i = plain.size() - 1; part == null && i >= 0; i--) {
            part = WORDS.get(plain.get(i));
        }
        if (part == null) {
            return null;
        }
        return new Said(n, part, side, number, depth[n]);
    }

    /** The words of a name: divided by signs, by digits, and where a capital begins a word. */
    static List<String> split(String name) {
        String plain = name.substring(name.lastIndexOf(':') + 1)
                .replace("ü", "ue")
                .replace("ö", "oe")
                .replace("ä", "ae")
                .replace("ß", "ss");
        plain = java.text.Normalizer.normalize(plain, java.text.Normalizer.Form.NFD)
                .replaceAll("\\p{M}", "");
        List<String> out = new ArrayList<>();
        for (String word : plain.split(
                "[^A-Za-z0-9]+|(?<=[a-z])(?=[A-Z])|(?<=[A-Z])(?=[A-Z][a-z])|(?<=[A-Za-z])(?=\\d)|(?<=\\d)(?=[A-Za-z])")) {
            if (!word.isEmpty()) {
                out.add(word.toLowerCase(Locale.ROOT));
            }
        }
        return out;
    }

    private List<Said> all(int side, Part... parts) {
        Set<Part> wanted = Set.of(parts);
        return said.stream()
                .filter(s -> wanted.contains(s.part) && sideOf(s) == side)
                .sorted(Comparator.comparingInt(Said::depth).thenComparingInt(Said::number))
                .toList();
    }

    /** By the name, or by the place where the name says none. */
    private int sideOf(Said one) {
        if (one.side != 0 || isMiddle(one.part)) {
            return one.side;
        }
        if (handAlone) {
            // All of one hand are of one side; which it is, its shape tells.
            return 1;
        }
        Vector3d at = world[one.node].getTranslation(new Vector3d());
        double off = at.dot(asset.conventions().left());
        return Math.abs(off) < 1e-4 ? 0 : off > 0 ? 1 : -1;
    }

    private static boolean isMiddle(Part part) {
        return switch (part) {
            case HIPS, TORSO, NECK, HEAD, JAW -> true;
            default -> false;
        };
    }

    private boolean below(int node, int above) {
        int up = node;
        while (up >= 0 && up != above) {
            up = parents[up];
        }
        return up == above && above >= 0;
    }

    private void put(Role role, int node, double confidence) {
        boolean taken = out.values().stream().anyMatch(g -> g.node == node);
        if (!taken) {
            out.putIfAbsent(role, new Guess(node, confidence));
        }
    }

    private static Role role(int side, String rest) {
        return Role.valueOf((side > 0 ? "LEFT_" : "RIGHT_") + rest);
    }

    private int node(Role role) {
        Guess guess = out.get(role);
        return guess == null ? -1 : guess.node;
    }

    private void middle() {
        List<Said> heads = all(0, Part.HEAD);
        int head = heads.isEmpty() ? -1 : heads.getFirst().node;
        List<Said> hips = new ArrayList<>(all(0, Part.HIPS));
        hips.addAll(all(0, Part.HIP));
        int pelvis = hips.isEmpty() ? fork(head) : hips.getFirst().node;
        if (pelvis >= 0) {
            put(Role.HIPS, pelvis, hips.isEmpty() ? 0.6 : 1);
        }
        if (head < 0) {
            return;
        }
        put(Role.HEAD, head, 1);
        List<Integer> between = new ArrayList<>();
        for (int up = parents[head]; up >= 0 && up != pelvis; up = parents[up]) {
            between.addFirst(up);
        }
        List<Integer> necks = between.stream().filter(n -> isSaid(n, Part.NECK)).toList();
        if (!necks.isEmpty()) {
            put(Role.NECK, necks.getFirst(), 1);
        }
        List<Integer> trunk = between.stream()
                .filter(n -> !isSaid(n, Part.NECK))
                .filter(n -> necks.isEmpty() || below(necks.getFirst(), n))
                .filter(n -> isSaid(n, Part.TORSO) || asset.jointFlags()[n])
                .toList();
        int count = trunk.size();
        if (count >= 1 && pelvis >= 0 && below(trunk.getFirst(), pelvis)) {
            put(Role.SPINE, trunk.getFirst(), isSaid(trunk.getFirst(), Part.TORSO) ? 1 : 0.7);
        }
        if (count >= 2) {
            put(Role.CHEST, trunk.get(count == 2 ? 1 : Math.max(1, (int) Math.round((count - 1) * 0.5))), 0.9);
        }
        if (count >= 3) {
            put(Role.UPPER_CHEST, trunk.getLast(), 0.9);
        }
    }

    private boolean isSaid(int node, Part part) {
        return said.stream().anyMatch(s -> s.node == node && s.part == part);
    }

    /** The deepest joint with both legs and the head below it. */
    private int fork(int head) {
        List<Said> left = all(1, Part.UPPER_LEG, Part.HIP, Part.LEG);
        List<Said> right = all(-1, Part.UPPER_LEG, Part.HIP, Part.LEG);
        if (left.isEmpty() || right.isEmpty() || head < 0) {
            return -1;
        }
        int up = head;
        while (up >= 0 && !(below(left.getFirst().node, up) && below(right.getFirst().node, up))) {
            up = parents[up];
        }
        return up;
    }

    private void arm(int side) {
        List<Said> numbered = chain(all(side, Part.ARM));
        List<Said> upper = all(side, Part.UPPER_ARM);
        List<Said> shoulders = all(side, Part.SHOULDER);
        List<Said> collars = all(side, Part.COLLAR);
        List<Said> lower = all(side, Part.LOWER_ARM);
        List<Said> hands = all(side, Part.HAND);
        if (upper.isEmpty() && numbered.size() >= 2) {
            // One word with numbers down the limb.
            put(role(side, "UPPER_ARM"), numbered.get(0).node, 0.9);
            put(role(side, "LOWER_ARM"), numbered.get(1).node, 0.9);
            if (numbered.size() >= 3 && hands.isEmpty()) {
                put(role(side, "HAND"), numbered.get(2).node, 0.8);
            }
        } else if (upper.isEmpty() && numbered.size() == 1) {
            put(role(side, "UPPER_ARM"), numbered.getFirst().node, 1);
        } else if (!upper.isEmpty()) {
            put(role(side, "UPPER_ARM"), upper.getFirst().node, 1);
        } else if (!shoulders.isEmpty()) {
            // Where no arm is named the joint at the shoulder moves it, as in H-Anim.
            put(role(side, "UPPER_ARM"), shoulders.getLast().node, 0.9);
        }
        if (!lower.isEmpty()) {
            put(role(side, "LOWER_ARM"), lower.getFirst().node, 1);
        }
        if (!hands.isEmpty()) {
            put(role(side, "HAND"), hands.getFirst().node, 1);
        }
        if (!collars.isEmpty()) {
            put(role(side, "SHOULDER"), collars.getFirst().node, 1);
        } else if (!shoulders.isEmpty()) {
            put(role(side, "SHOULDER"), shoulders.getFirst().node, 0.9);
        }
    }

    private void leg(int side) {
        List<Said> numbered = chain(all(side, Part.LEG));
        List<Said> upper = new ArrayList<>(all(side, Part.UPPER_LEG));
        upper.addAll(all(side, Part.HIP));
        List<Said> lower = all(side, Part.LOWER_LEG);
        List<Said> feet = all(side, Part.FOOT);
        List<Said> toes = all(side, Part.TOES);
        if (!upper.isEmpty()) {
            put(role(side, "UPPER_LEG"), upper.getFirst().node, 1);
            if (lower.isEmpty() && !numbered.isEmpty()) {
                // Beside an upper leg the bare word is the lower one.
                put(role(side, "LOWER_LEG"), numbered.getFirst().node, 0.9);
            }
        } else if (!numbered.isEmpty()) {
            put(role(side, "UPPER_LEG"), numbered.getFirst().node, 0.9);
            if (lower.isEmpty() && numbered.size() >= 2) {
                put(role(side, "LOWER_LEG"), numbered.get(1).node, 0.9);
            }
            if (feet.isEmpty() && numbered.size() >= 3) {
                put(role(side, "FOOT"), numbered.get(2).node, 0.8);
            }
        }
        if (!lower.isEmpty()) {
            put(role(side, "LOWER_LEG"), lower.getFirst().node, 1);
        }
        if (!feet.isEmpty()) {
            put(role(side, "FOOT"), feet.getFirst().node, 1);
        }
        if (!toes.isEmpty()) {
            put(role(side, "TOES"), toes.getFirst().node, 1);
        }
    }

    /** Those of a list that hang below each other. */
    private List<Said> chain(List<Said> list) {
        List<Said> out = new ArrayList<>();
        for (Said one : list) {
            if (out.isEmpty() || below(one.node, out.getLast().node) || isFree(one.node)) {
                out.add(one);
            }
        }
        return out;
    }

    private void fingers(int side) {
        int hand = node(role(side, "HAND"));
        for (Part finger : List.of(Part.THUMB, Part.INDEX, Part.MIDDLE, Part.RING, Part.LITTLE)) {
            List<Said> own = chain(all(side, finger).stream()
                    .filter(s -> hand < 0 || below(s.node, hand) || isFree(s.node))
                    .toList());
            if (bySegment(side, finger, own)) {
                continue;
            }
            // A joint in the palm comes before the three that bend.
            int first = finger != Part.THUMB && own.size() >= 4 ? 1 : 0;
            List<String> ends = finger == Part.THUMB
                    ? List.of("METACARPAL", "PROXIMAL", "DISTAL")
                    : List.of("PROXIMAL", "INTERMEDIATE", "DISTAL");
            for (int i = 0; i < 3 && first + i < own.size(); i++) {
                put(role(side, finger.name() + "_" + ends.get(i)), own.get(first + i).node, 0.9);
            }
        }
    }

    /** Where the names themselves say which bone of the finger each is. */
    private boolean bySegment(int side, Part finger, List<Said> own) {
        boolean any = false;
        for (Said one : own) {
            List<String> words = split(asset.nodes().get(one.node).name());
            for (String segment : List.of("metacarpal", "proximal", "intermediate", "distal")) {
                boolean inRole = finger == Part.THUMB ? !segment.equals("intermediate") : !segment.equals("metacarpal");
                if (words.contains(segment)) {
                    any = true;
                    if (inRole) {
                        put(role(side, finger.name() + "_" + segment.toUpperCase(Locale.ROOT)), one.node, 1);
                    }
                }
            }
        }
        return any;
    }

    /** A joint with no joint above it, as in files that list a hand's joints side by side. */
    private boolean isFree(int node) {
        return parents[node] < 0 || !asset.jointFlags()[parents[node]];
    }

    private void face() {
        int head = node(Role.HEAD);
        for (int side = 1; side >= -1; side -= 2) {
            for (Said eye : all(side, Part.EYE)) {
                if (below(eye.node, head)) {
                    put(role(side, "EYE"), eye.node, 1);
                }
            }
        }
        for (Said jaw : all(0, Part.JAW)) {
            if (below(jaw.node, head)) {
                put(Role.JAW, jaw.node, 1);
            }
        }
    }

    /** Below the joint of the nearest role above that was found. */
    private boolean hangsRight(Role role) {
        Role up = role.parent();
        while (up != null && !out.containsKey(up)) {
            up = up.parent();
        }
        return up == null || below(node(role), node(up)) || isFree(node(role)) && isFree(node(up));
    }
}
