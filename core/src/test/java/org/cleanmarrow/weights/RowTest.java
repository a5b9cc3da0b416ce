package org.cleanmarrow.weights;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.BitSet;
import java.util.Random;
import org.cleanmarrow.model.Influences;
import org.testng.annotations.Test;

/** Laws of a row of weights. */
public class RowTest {
    private static Row random(Random random, int most) {
        Row row = new Row();
        int count = 1 + random.nextInt(most);
        for (int i = 0; i < count; i++) {
            row.add(random.nextInt(20), random.nextDouble());
        }
        row.normalise();
        return row;
    }

    private static BitSet locks(Random random) {
        BitSet out = new BitSet();
        for (int j = 0; j < 20; j++) {
            out.set(j, random.nextInt(3) == 0);
        }
        return out;
    }

    private static Row copy(Row row) {
        Row out = new Row();
        out.add(row, 1);
        return out;
    }

    private static double floatSum(Row row) {
        Influences.Builder table = new Influences.Builder(1);
        row.to(table);
        return table.build().sum(0);
    }

    @Test
    public void settingReachesTheGoalOrWhatTheLocksLeave() {
        Random random = new Random(1);
        for (int round = 0; round < 5000; round++) {
            Row row = random(random, 9);
            BitSet locked = locks(random);
            Row before = copy(row);
            int joint = random.nextInt(20);
            double goal = random.nextDouble() * 1.4 - 0.2;
            boolean changed = row.set(joint, goal, locked);
            if (locked.get(joint)) {
                assertThat(changed).isFalse();
                continue;
            }
            double held = 0;
            double free = 0;
            for (int i = 0; i < before.size(); i++) {
                int j = before.joint(i);
                held += locked.get(j) ? before.weight(i) : 0;
                free += !locked.get(j) && j != joint ? before.weight(i) : 0;
                if (locked.get(j)) {
                    assertThat((float) row.of(j)).isEqualTo((float) before.weight(i));
                }
            }
            double room = Math.max(0, 1 - held);
            double wanted = free > 0 ? Math.clamp(goal, 0, room) : room;
            assertThat(row.of(joint)).isCloseTo(wanted, within(1e-6));
            assertThat(floatSum(row)).isCloseTo(1, within(1e-6));
            // The others keep their proportions.
            for (int i = 0; i < before.size() && free > 0 && room - wanted > 1e-3; i++) {
                int j = before.joint(i);
                if (!locked.get(j) && j != joint) {
                    assertThat(row.of(j) / (room - wanted)).isCloseTo(before.weight(i) / free, within(1e-4));
                }
            }
        }
    }

    @Test
    public void aSmoothCutHasNoSteps() {
        Random random = new Random(2);
        for (int round = 0; round < 2000; round++) {
            Row row = random(random, 12);
            Row near = new Row();
            for (int i = 0; i < row.size(); i++) {
                near.append(row.joint(i), Math.max(0, row.weight(i) + 1e-6 * random.nextGaussian()));
            }
            near.add(random.nextInt(20), 1e-6);
            int most = 1 + random.nextInt(6);
            Row a = copy(row);
            Row b = copy(near);
            a.keepSmoothly(most);
            b.keepSmoothly(most);
            assertThat(a.size()).isBetween(1, most);
            double left = a.sum();
            a.normalise();
            b.normalise();
            for (int j = 0; j < 20; j++) {
                // What is left may be little, and is scaled up with whatever it is off by.
                assertThat(a.of(j)).isCloseTo(b.of(j), within(1e-4 / Math.max(1e-3, left)));
            }
        }
        Row few = random(random, 3);
        Row same = copy(few);
        few.keepSmoothly(4);
        for (int j = 0; j < 20; j++) {
            assertThat(few.of(j)).isEqualTo(same.of(j));
        }
        Row equal = new Row();
        for (int j = 0; j < 6; j++) {
            equal.append(j, 1 / 6.0);
        }
        equal.keepSmoothly(4);
        assertThat(equal.size()).as("where all weigh the same the first stay").isEqualTo(4);
    }

    @Test
    public void onlyTheLeastGoAndTheHeaviestNever() {
        Row row = new Row();
        row.append(3, 0.05);
        row.append(4, 0.5);
        row.append(5, 0.05);
        row.append(6, 0.4);
        row.keep(3);
        assertThat(row.indexOf(5)).as("of equals the later goes").isNegative();
        row.dropBelow(0.9);
        assertThat(row.size()).isEqualTo(1);
        assertThat(row.joint(0)).isEqualTo(4);
        assertThat(row.removeJoint(4)).isEqualTo(0.5);
        assertThat(row.normalise()).isFalse();
        Row wrong = new Row();
        wrong.append(1, Double.NaN);
        assertThat(wrong.normalise()).isFalse();
    }
}
