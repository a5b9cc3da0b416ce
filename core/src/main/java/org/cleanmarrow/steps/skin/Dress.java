package org.cleanmarrow.steps.skin;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.naming.NamePattern;
import org.cleanmarrow.weights.RestSurface;
import org.cleanmarrow.work.Composite;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.VertexSet;

/**
 * Puts parts that are worn onto a skeleton in one go, the innermost first: weights from the body and from what lies below, hard pieces
 * made rigid, shown-through places mended, and on demand regions and a cover. Each is a step of its own ({@link TransferWeights}, {@link
 * MakeRigid}, {@link MendPokeThrough}, {@link MarkRegions}, {@link Cover}), and this can be opened into them. Cost: theirs together, some
 * seconds a part.
 */
@StepInfo(
        name = "dress",
        says =
                "Puts parts that are worn onto a body's skeleton in one go: weights, hard pieces, and no skin through them.")
public record Dress(
        @Parameter(says = "names of the body's meshes, with * and commas between")
        String body,

        @Parameter(says = "names of the meshes worn on it, with commas between, the innermost first")
        String worn,

        @Parameter(says = "materials of hard pieces, with * and commas between", fallback = "\"\"")
        String hard,

        @Parameter(says = "joints a vertex at most", fallback = "4", least = 1, most = 255)
        int most,

        @Parameter(
                says =
                        "what the repair does where it cannot do both: 0 keeps the surface even, 1 keeps it off the skin",
                fallback = "0.5",
                least = 0,
                most = 1)
        double trade,

        @Parameter(
                says = "how far what is worn may be moved out where the body shows through; 0: not at all",
                fallback = "10",
                unit = "mm",
                least = 0,
                most = 1000)
        double pokeMillimetres,

        @Parameter(says = "mark which region of the body each triangle belongs to", fallback = "false")
        boolean regions,

        @Parameter(says = "what is done with the body's triangles that nobody can see", fallback = "\"kept\"")
        Hidden hidden)
        implements Composite {
    /** What is done with triangles below. */
    public enum Hidden {
        KEPT,
        MARKED,
        PICTURE,
        FACES
    }

    /** Of its size: what lies farther off has nothing to give to a part. */
    private static final double NEAR = 0.05;

    private static final int FRAMES = 8;

    /** With what is usual. */
    public Dress(String body, String worn) {
        this(body, worn, "", 4, 0.5, 10, false, Hidden.KEPT);
    }

    /** Meshes of parts that ship and that nothing moves yet, neither a skin, nor a joint that they hang on, nor a clip. */
    public static List<Integer> loose(Asset asset) {
        boolean[] joint = asset.jointFlags();
        BitSet moved = new BitSet();
        asset.clips()
                .forEach(clip ->
                        clip.channels().stream().filter(c -> c.node() >= 0).forEach(c -> moved.set(c.node())));
        int[] parents = asset.parents();
        List<Integer> out = new ArrayList<>();
        for (int n = 0; n < asset.nodes().size(); n++) {
            Node node = asset.nodes().get(n);
            boolean still = node.mesh() >= 0 && node.ships() && asset.skinOfMesh(node.mesh()) < 0;
            for (int up = n; still && up >= 0; up = parents[up]) {
                still = !joint[up] && !moved.get(up);
            }
            if (still && !out.contains(node.mesh())) {
                out.add(node.mesh());
            }
        }
        return out;
    }

    @Override
    public List<Part> parts(Asset asset) throws Refused {
        if (!(pokeMillimetres >= 0 && pokeMillimetres <= 1000)) {
            throw new Refused("poke.range", body, worn);
        }
        List<Integer> below = Names.meshes(asset, body);
        List<Integer> over = new ArrayList<>(Names.meshes(asset, worn));
        over.removeAll(below);
        if (below.isEmpty()) {
            throw new Refused("transfer.no.source", body);
        }
        if (over.isEmpty()) {
            throw new Refused("cover.nothing.worn", worn, body);
        }
        List<Part> parts = new ArrayList<>();
        List<Integer> sources = new ArrayList<>(below);
        Box[] boxes = new Box[asset.meshes().size()];
        Stream.concat(below.stream(), over.stream()).forEach(m -> boxes[m] = box(asset, m));
        for (int w : over) {
            Box box = boxes[w];
            List<Integer> near = sources.stream()
                    .filter(s -> boxes[s].near(box, box.diagonal() * NEAR))
                    .toList();
            parts.add(new Part(transfer(names(asset, near.isEmpty() ? below : near), asset.meshRef(w)), true));
            if (!hard.isBlank() && MakeRigid.has(asset, asset.meshes().get(w), hard)) {
                parts.add(new Part(new MakeRigid(asset.meshRef(w), VertexSet.ALL, hard, ""), true));
            }
            sources.add(w);
        }
        for (int w : over) {
            for (int b : below) {
                if (pokeMillimetres > 0) {
                    parts.add(new Part(mend(asset.meshRef(b), asset.meshRef(w)), false));
                }
            }
            if (regions) {
                Step marks = new MarkRegions(asset.meshRef(w));
                parts.add(new Part(marks, true));
            }
        }
        for (int b : below) {
            if (hidden != Hidden.KEPT) {
                Cover.As as = switch (hidden) {
                    case FACES -> Cover.As.FACES;
                    case PICTURE -> Cover.As.TEXTURE;
                    default -> Cover.As.ATTRIBUTE;
                };
                parts.add(new Part(new Cover(asset.meshRef(b), names(asset, over), Cover.RINGS, as, FRAMES), false));
            }
        }
        return parts;
    }

    private static Box box(Asset asset, int mesh) {
        Box box = Box.empty();
        box.grow(RestSurface.of(asset, mesh).positions());
        return box;
    }

    private Step transfer(String from, String to) {
        return new TransferWeights(from, to, VertexSet.ALL, 0, 0, false, "*", most, VertexSet.ALL, "", true, trade);
    }

    private Step mend(String below, String above) {
        return new MendPokeThrough(below, above, MendPokeThrough.Way.WORN, pokeMillimetres, FRAMES);
    }

    private static String names(Asset asset, List<Integer> meshes) {
        return meshes.stream().map(asset::meshRef).map(NamePattern::exactly).collect(Collectors.joining(","));
    }
}
