package org.cleanmarrow.steps.skin;

import java.util.BitSet;
import org.cleanmarrow.edit.MeshChoice;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.weights.Row;
import org.cleanmarrow.weights.Sides;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;

/**
 * Gives one side of a mesh the weights of the other, seen in a mirror, with joints swapped by their side words. Vertices on
 * the plane take the mean of their own weights and those swapped. The two sides need not have the same vertices: weights are
 * taken where the mirror image lies on the surface. Where it lies on none within the tolerance they stay, and are counted.
 */
@StepInfo(name = "mirror-weights", says = "Gives one side the weights of the other, with joints swapped by side words.")
public record MirrorWeights(
        @Parameter(says = "name of the skinned mesh") String mesh,

        @Parameter(says = "the side that keeps its weights", fallback = "\"left\"")
        From from,

        @Parameter(says = "vertices that may change", fallback = "\"all\"")
        VertexSet vertices,

        @Parameter(says = "how far a mirror image may be off the surface", fallback = "1.0", unit = "mm", least = 0)
        double toleranceMillimetres,

        @Parameter(says = "joints whose weights are not touched, with * and commas between", fallback = "\"\"")
        String locked)
        implements Step {
    /** Which side is the pattern. */
    public enum From {
        LEFT,
        RIGHT
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (!(toleranceMillimetres >= 0)) {
            throw new Refused("mirror.tolerance", toleranceMillimetres);
        }
        MeshChoice choice = new MeshChoice(asset, mesh, vertices, locked);
        Sides sides = Sides.of(asset, choice.number);
        WeldedSurface surface = sides.surface();
        Influences rows = choice.places();
        double near = toleranceMillimetres / 1000 / asset.conventions().metresPerUnit();
        Sides.Image[] images = sides.images(near);
        int keeps = from == From.LEFT ? 1 : -1;
        BitSet unmatched = new BitSet();
        Row made = new Row();
        Change change = choice.edited((row, v) -> {
            int place = surface.weldedOf(v);
            int side = sides.sideOf(place, near);
            if (side == keeps) {
                return false;
            }
            Sides.Image image = images[place];
            if (image == null) {
                unmatched.set(v);
                return false;
            }
            made.clear();
            for (int i = 0; i < 3; i++) {
                swapped(made, rows, image.corners()[i], sides, image.shares()[i] * (side == 0 ? 0.5 : 1));
            }
            if (side == 0) {
                made.add(rows, place, 0.5);
            }
            made.dropBelow(1e-6);
            return replace(row, made, choice.locked);
        });
        return unmatched.isEmpty()
                ? change
                : change.count("without.a.counterpart.left.as.they.were", unmatched.cardinality());
    }

    /** Vertices of the side that would change whose mirror image lies on no surface within the tolerance. */
    public BitSet unmatched(Asset asset) throws Refused {
        MeshChoice choice = new MeshChoice(asset, mesh, vertices, locked);
        Sides sides = Sides.of(asset, choice.number);
        double near = toleranceMillimetres / 1000 / asset.conventions().metresPerUnit();
        Sides.Image[] images = sides.images(near);
        BitSet out = new BitSet();
        choice.vertices.stream()
                .filter(v -> sides.sideOf(sides.surface().weldedOf(v), near) != (from == From.LEFT ? 1 : -1))
                .filter(v -> images[sides.surface().weldedOf(v)] == null)
                .forEach(out::set);
        return out;
    }

    private static void swapped(Row into, Influences rows, int place, Sides sides, double share) {
        for (int i = rows.offsets()[place]; i < rows.offsets()[place + 1]; i++) {
            into.add(sides.twinOf(rows.joints()[i]), rows.weights()[i] * share);
        }
    }

    /** Puts another row's free joints in place of a row's, beside those that are locked; false where they are the same. */
    private static boolean replace(Row row, Row by, BitSet locked) {
        Row out = new Row();
        for (int i = 0; i < row.size(); i++) {
            if (locked.get(row.joint(i))) {
                out.append(row.joint(i), row.weight(i));
            }
        }
        for (int i = 0; i < by.size(); i++) {
            if (!locked.get(by.joint(i))) {
                out.append(by.joint(i), by.weight(i));
            }
        }
        if (!out.normalise(locked)) {
            return false;
        }
        boolean same = out.size() == row.size();
        for (int i = 0; same && i < out.size(); i++) {
            same = (float) row.of(out.joint(i)) == (float) out.weight(i);
        }
        if (same) {
            return false;
        }
        row.clear();
        row.add(out, 1);
        return true;
    }
}
