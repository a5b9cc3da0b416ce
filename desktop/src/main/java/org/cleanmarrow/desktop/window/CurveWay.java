package org.cleanmarrow.desktop.window;

import java.util.stream.DoubleStream;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.pose.ChannelCurve;

/**
 * A curve as a picture of some width shows it: of all values on one column the first, the least, the most and the last.
 *
 * @param x      of each point of each of the curve's numbers, from where the clip starts
 * @param values the number at each point
 */
record CurveWay(double width, double start, double length, double[][] x, double[][] values) {
    static CurveWay of(ChannelCurve curve, Clip clip, double width) {
        double start = clip.start();
        double scale = width / Math.max(1e-6, clip.seconds());
        double[][] x = new double[curve.values().length][];
        double[][] values = new double[x.length][];
        double[] seconds = curve.seconds();
        for (int row = 0; row < x.length; row++) {
            double[] all = curve.values()[row];
            DoubleStream.Builder along = DoubleStream.builder();
            DoubleStream.Builder up = DoubleStream.builder();
            for (int from = 0, to; from < seconds.length; from = to) {
                double at = (seconds[from] - start) * scale;
                double low = all[from];
                double high = all[from];
                for (to = from + 1; to < seconds.length && (seconds[to] - start) * scale < at + 0.5; to++) {
                    low = Math.min(low, all[to]);
                    high = Math.max(high, all[to]);
                }
                along.add(at);
                up.add(all[from]);
                if (to - from > 2) {
                    along.add(at).add(at);
                    up.add(low).add(high);
                }
                if (to - from > 1) {
                    along.add((seconds[to - 1] - start) * scale);
                    up.add(all[to - 1]);
                }
            }
            x[row] = along.build().toArray();
            values[row] = up.build().toArray();
        }
        return new CurveWay(width, start, clip.seconds(), x, values);
    }

    /** Whether it is of a clip of this length in a picture of this width. */
    boolean is(Clip clip, double wide) {
        return width == wide && start == clip.start() && length == clip.seconds();
    }
}
