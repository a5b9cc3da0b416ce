package org.cleanmarrow.geometry;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Deque;
import java.util.List;
import java.util.Random;
import org.testng.annotations.Test;

public class DisjointSetsTest {
    /** Against a walk over the same joins as edges of a graph, which reaches a set's things from its lowest. */
    @Test
    public void setsAreWhatAWalkReaches() {
        for (int seed = 0; seed < 40; seed++) {
            Random random = new Random(seed);
            int n = 1 + random.nextInt(60);
            DisjointSets sets = new DisjointSets(n);
            List<List<Integer>> beside = new ArrayList<>();
            for (int i = 0; i < n; i++) {
                beside.add(new ArrayList<>());
            }
            for (int j = random.nextInt(n + 1); j > 0; j--) {
                int a = random.nextInt(n);
                int b = random.nextInt(n);
                sets.join(a, b);
                beside.get(a).add(b);
                beside.get(b).add(a);
            }
            int[] reached = new int[n];
            Arrays.fill(reached, -1);
            int many = 0;
            for (int i = 0; i < n; i++) {
                if (reached[i] < 0) {
                    Deque<Integer> open = new ArrayDeque<>(List.of(i));
                    while (!open.isEmpty()) {
                        int x = open.remove();
                        if (reached[x] < 0) {
                            reached[x] = many;
                            open.addAll(beside.get(x));
                        }
                    }
                    assertThat(sets.root(i)).isEqualTo(i);
                    many++;
                }
            }
            assertThat(sets.numbered()).isEqualTo(reached);
            assertThat(sets.count()).isEqualTo(many);
        }
    }
}
