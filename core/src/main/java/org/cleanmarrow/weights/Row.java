package org.cleanmarrow.weights;

import java.util.Arrays;
import java.util.BitSet;
import org.cleanmarrow.model.Influences;

/** One vertex's joints and weights while they are changed, in double. Not for several threads. */
public final class Row {
    private int[] joints = new int[16];
    private double[] weights = new double[16];
    private int size;

    public int size() {
        return size;
    }

    public int joint(int at) {
        return joints[at];
    }

    public double weight(int at) {
        return weights[at];
    }

    public void clear() {
        size = 0;
    }

    /** Adds the entries of a vertex, in their order. */
    public void load(Influences from, int vertex) {
        for (int i = from.offsets()[vertex]; i < from.offsets()[vertex + 1]; i++) {
            append(from.joints()[i], from.weights()[i]);
        }
    }

    /** Adds an entry behind the others, even where the joint has one. */
    public void append(int joint, double weight) {
        if (size == joints.length) {
            joints = Arrays.copyOf(joints, size * 2);
            weights = Arrays.copyOf(weights, size * 2);
        }
        joints[size] = joint;
        weights[size++] = weight;
    }

    /** Adds to a joint's weight. */
    public void add(int joint, double weight) {
        int at = indexOf(joint);
        if (at < 0) {
            append(joint, weight);
        } else {
            weights[at] += weight;
        }
    }

    /** Adds a share of another row. */
    public void add(Row other, double share) {
        for (int i = 0; i < other.size; i++) {
            add(other.joints[i], other.weights[i] * share);
        }
    }

    /** Adds a share of a vertex's row. */
    public void add(Influences from, int vertex, double share) {
        for (int i = from.offsets()[vertex]; i < from.offsets()[vertex + 1]; i++) {
            add(from.joints()[i], from.weights()[i] * share);
        }
    }

    public void scale(double by) {
        for (int i = 0; i < size; i++) {
            weights[i] *= by;
        }
    }

    public void remove(int at) {
        System.arraycopy(joints, at + 1, joints, at, size - at - 1);
        System.arraycopy(weights, at + 1, weights, at, size - at - 1);
        size--;
    }

    /** Takes out every entry of a joint; gives their sum. */
    public double removeJoint(int joint) {
        double sum = 0;
        for (int at = indexOf(joint); at >= 0; at = indexOf(joint)) {
            sum += weights[at];
            remove(at);
        }
        return sum;
    }

    /** Takes out what is below a weight, but never the heaviest. */
    public void dropBelow(double least) {
        int heaviest = size == 0 ? -1 : largest();
        for (int i = size - 1; i >= 0; i--) {
            if (weights[i] < least && i != heaviest) {
                remove(i);
                heaviest -= i < heaviest ? 1 : 0;
            }
        }
    }

    /** Keeps the heaviest so many. */
    public void keep(int most) {
        while (size > most) {
            int least = 0;
            for (int i = 1; i < size; i++) {
                // Of equals the later goes, so that the order in the file decides and not chance.
                least = weights[i] <= weights[least] ? i : least;
            }
            remove(least);
        }
    }

    /** Keeps at most so many without a step where nothing is locked; locked joints stay before all others. */
    public void keep(int most, BitSet locked) {
        if (locked.isEmpty()) {
            keepSmoothly(most);
            return;
        }
        while (size > most) {
            int least = -1;
            for (int i = 0; i < size; i++) {
                boolean free = !locked.get(joints[i]);
                least = free && (least < 0 || weights[i] <= weights[least]) ? i : least;
            }
            if (least < 0) {
                return;
            }
            remove(least);
        }
    }

    /**
     * Keeps at most so many, each less by the heaviest that goes: so weights run on without a step where, from one vertex to
     * the next, another joint becomes one of the heaviest. Where all weigh the same the first stay.
     */
    public void keepSmoothly(int most) {
        if (size <= most) {
            return;
        }
        double[] sorted = Arrays.copyOf(weights, size);
        Arrays.sort(sorted);
        double goes = sorted[size - most - 1];
        if (!(sorted[size - 1] > goes)) {
            keep(most);
            return;
        }
        for (int i = size - 1; i >= 0; i--) {
            weights[i] -= goes;
            if (!(weights[i] > 0)) {
                remove(i);
            }
        }
    }

    public int indexOf(int joint) {
        for (int i = 0; i < size; i++) {
            if (joints[i] == joint) {
                return i;
            }
        }
        return -1;
    }

    /** Weight of a joint, 0 where it has none. */
    public double of(int joint) {
        double sum = 0;
        for (int i = 0; i < size; i++) {
            sum += joints[i] == joint ? weights[i] : 0;
        }
        return sum;
    }

    public double sum() {
        double sum = 0;
        for (int i = 0; i < size; i++) {
            sum += weights[i];
        }
        return sum;
    }

    /** {@link Influences#sumsToOne} of the row as it would be stored. */
    public boolean sumsToOne() {
        float single = 0;
        double whole = 0;
        int many = 0;
        for (int i = 0; i < size; i++) {
            float stored = (float) weights[i];
            single += stored;
            whole += stored;
            many += stored == 0 ? 0 : 1;
        }
        double most = Influences.SUM_TOLERANCE * many;
        return Math.abs(whole - 1) <= most && Math.abs((double) single - 1) <= most;
    }

    /** Where the heaviest entry is; the first of equals. */
    public int largest() {
        int best = 0;
        for (int i = 1; i < size; i++) {
            best = weights[i] > weights[best] ? i : best;
        }
        return best;
    }

    /**
     * Scales to a sum of one as float32 holds it: the rounding error of all goes into the largest.
     *
     * @return false where there is nothing to scale
     */
    public boolean normalise() {
        return normalise(new BitSet());
    }

    /**
     * Scales the joints that are not locked so that all sum to one. Locked joints keep their weights bit for bit.
     *
     * @return false where there is nothing to scale, or no room; the row is then as it was
     */
    public boolean normalise(BitSet locked) {
        double held = 0;
        double free = 0;
        int largest = -1;
        for (int i = 0; i < size; i++) {
            if (locked.get(joints[i])) {
                held += weights[i];
            } else {
                free += weights[i];
                largest = largest < 0 || weights[i] > weights[largest] ? i : largest;
            }
        }
        double room = 1 - held;
        if (!(free > 0) || Double.isInfinite(free) || !(room >= 0)) {
            return false;
        }
        double others = held;
        for (int i = 0; i < size; i++) {
            if (!locked.get(joints[i])) {
                weights[i] = (float) (weights[i] / free * room);
                others += i == largest ? 0 : weights[i];
            }
        }
        weights[largest] = Math.max(0, 1 - others);
        return true;
    }

    /**
     * Gives a joint a weight; the others that are not locked share what is left as they did. Where no other that is free
     * moves the vertex, the joint takes all that the locked ones leave.
     *
     * @return false where the joint is locked, or nothing changes
     */
    public boolean set(int joint, double weight, BitSet locked) {
        if (locked.get(joint)) {
            return false;
        }
        double held = 0;
        double free = 0;
        for (int i = 0; i < size; i++) {
            if (joints[i] != joint) {
                held += locked.get(joints[i]) ? weights[i] : 0;
                free += locked.get(joints[i]) ? 0 : weights[i];
            }
        }
        double room = Math.max(0, 1 - held);
        double goal = free > 0 ? Math.clamp(weight, 0, room) : room;
        double before = of(joint);
        if (goal == before && Math.abs(sum() - 1) < 1e-6) {
            return false;
        }
        removeJoint(joint);
        for (int i = 0; i < size; i++) {
            if (!locked.get(joints[i])) {
                weights[i] = free > 0 ? weights[i] / free * (room - goal) : 0;
            }
        }
        append(joint, goal);
        BitSet fixed = (BitSet) locked.clone();
        fixed.set(joint);
        // Whole float32 sums; what cannot be spread over others goes to the joint itself.
        return free > 0 && goal < room ? normalise(fixed) || normalise(locked) : normalise(locked) || true;
    }

    /** Sorts by joint number, so that equal rows are equal to the bit. */
    public void sort() {
        for (int i = 1; i < size; i++) {
            for (int k = i; k > 0 && joints[k - 1] > joints[k]; k--) {
                int j = joints[k];
                joints[k] = joints[k - 1];
                joints[k - 1] = j;
                double w = weights[k];
                weights[k] = weights[k - 1];
                weights[k - 1] = w;
            }
        }
    }

    /** Ends a row of a table with these entries. */
    public void to(Influences.Builder out) {
        for (int i = 0; i < size; i++) {
            out.add(joints[i], (float) weights[i]);
        }
        out.endRow();
    }
}
