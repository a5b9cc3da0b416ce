package org.cleanmarrow.bench;

import java.util.Arrays;

/**
 * Milliseconds that repeated runs took, sorted.
 *
 * @param milliseconds rising, at least one
 */
record Timing(double[] milliseconds) {
    /** Something to be timed. */
    interface Work {
        void run() throws Exception;
    }

    /** Runs a piece of work until it is warm, then times it again and again. */
    static Timing of(int warm, int runs, Work work) throws Exception {
        for (int i = 0; i < warm; i++) {
            work.run();
        }
        double[] out = new double[runs];
        for (int i = 0; i < runs; i++) {
            long start = System.nanoTime();
            work.run();
            out[i] = (System.nanoTime() - start) / 1e6;
        }
        return sorted(out);
    }

    /** Times several pieces of work in turn, so that all meet the machine in the same state. */
    static Timing[] inTurn(int warm, int runs, Work... works) throws Exception {
        double[][] out = new double[works.length][runs];
        for (int i = -warm; i < runs; i++) {
            for (int w = 0; w < works.length; w++) {
                long start = System.nanoTime();
                works[w].run();
                if (i >= 0) {
                    out[w][i] = (System.nanoTime() - start) / 1e6;
                }
            }
        }
        return Arrays.stream(out).map(Timing::sorted).toArray(Timing[]::new);
    }

    static Timing sorted(double[] milliseconds) {
        double[] own = milliseconds.clone();
        Arrays.sort(own);
        return new Timing(own);
    }

    double median() {
        return milliseconds[milliseconds.length / 2];
    }

    /** Nineteen runs of twenty took no longer. */
    double percentile95() {
        return milliseconds[(int) Math.min(milliseconds.length - 1L, Math.round(milliseconds.length * 0.95))];
    }
}
