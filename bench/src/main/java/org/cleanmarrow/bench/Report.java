package org.cleanmarrow.bench;

import java.util.Locale;

/** Prints one line a measurement: what, its median and 95th percentile, the yardstick of the same run, the goal. */
final class Report {
    /** One picture of a screen at 60 Hz, in milliseconds. */
    static final double FRAME = 1000 / 60.0;

    private int missed;

    void title(String text) {
        System.out.println();
        System.out.println(text);
    }

    void note(String text) {
        System.out.println("  " + text);
    }

    /** A time that must stay under so many times a yardstick's median. */
    void against(String what, Timing time, String yardstick, Timing other, double most) {
        double ratio = time.median() / other.median();
        line(
                what,
                time,
                String.format(Locale.ROOT, "%.2fx of %s (%.3f ms)", ratio, yardstick, other.median()),
                String.format(Locale.ROOT, "at most %.4gx", most),
                ratio <= most);
    }

    /** A time whose 95th percentile must stay within milliseconds. */
    void within(String what, Timing time, double most) {
        line(
                what,
                time,
                String.format(Locale.ROOT, "%.2f of the time allowed", time.percentile95() / most),
                String.format(Locale.ROOT, "95 %% within %.1f ms", most),
                time.percentile95() <= most);
    }

    /** How time grows with size, which must stay under an exponent. */
    void slope(String what, String times, double exponent, double most, boolean met) {
        missed += met ? 0 : 1;
        System.out.printf(
                Locale.ROOT,
                "  %-30s %-34s exponent %.2f   goal: under %.1f   %s%n",
                what,
                times + " ms",
                exponent,
                most,
                met ? "met" : "MISSED");
    }

    /** Something that must not happen at all. */
    void none(String what, long times, String first) {
        missed += times == 0 ? 0 : 1;
        System.out.printf(
                Locale.ROOT, "  %-58s %d   goal: none   %s%n", what, times, times == 0 ? "met" : "MISSED, " + first);
    }

    /** A number that must not be exceeded. */
    void most(String what, long measured, long most) {
        missed += measured <= most ? 0 : 1;
        System.out.printf(
                Locale.ROOT,
                "  %-58s %d   goal: at most %d   %s%n",
                what,
                measured,
                most,
                measured <= most ? "met" : "MISSED");
    }

    private void line(String what, Timing time, String measured, String goal, boolean met) {
        missed += met ? 0 : 1;
        System.out.printf(
                Locale.ROOT,
                "  %-58s median %9.3f ms   95 %% %9.3f ms   %s   goal: %s   %s%n",
                what,
                time.median(),
                time.percentile95(),
                measured,
                goal,
                met ? "met" : "MISSED");
    }

    int missed() {
        return missed;
    }
}
