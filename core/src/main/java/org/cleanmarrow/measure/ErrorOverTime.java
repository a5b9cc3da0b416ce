package org.cleanmarrow.measure;

import java.util.Arrays;
import java.util.Comparator;
import java.util.stream.IntStream;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.work.Work;

/**
 * How far one clip moves what is seen of an asset from where another does, over time.
 *
 * @param seconds rising
 * @param metres  at the worst of the vertices looked at: at the moments where it is most of all, elsewhere of those that stand out
 *                furthest on every joint
 */
public record ErrorOverTime(double[] seconds, double[] metres) {
    /** A longer clip is looked at so many times, evenly. */
    public static final int MOST = 2_000;

    /** Looks a frame: splines part most between frames. */
    private static final int A_FRAME = 4;

    /** Moments looked at with all vertices. */
    private static final int WHOLE = 8;

    /**
     * On every frame of the first clip's time line and three times between two. On all cores; cost: so many moments, up to {@link #MOST} of them, times the poses
     * of the few vertices that stand out.
     */
    public static ErrorOverTime of(Asset asset, Clip was, Clip is, Work work) {
        int many = (int) Math.clamp(Math.rint(was.seconds() * was.rate()) * A_FRAME + 1, 2, MOST);
        double[] seconds = IntStream.range(0, many)
                .mapToDouble(i -> was.start() + was.seconds() * i / (many - 1))
                .toArray();
        ClipDifference difference = new ClipDifference(asset);
        double[] metres = difference.source(was, seconds, true, work).from(is, work);
        int[] worst = IntStream.range(0, many)
                .boxed()
                .sorted(Comparator.comparingDouble((Integer i) -> -metres[i]))
                .limit(WHOLE)
                .mapToInt(Integer::intValue)
                .toArray();
        double[] whole = difference
                .source(was, Arrays.stream(worst).mapToDouble(i -> seconds[i]).toArray(), false, work)
                .from(is, work);
        for (int i = 0; i < worst.length; i++) {
            metres[worst[i]] = Math.max(metres[worst[i]], whole[i]);
        }
        return new ErrorOverTime(seconds, metres);
    }

    /** Number of the moment where it is most. */
    public int worst() {
        int worst = 0;
        for (int i = 1; i < metres.length; i++) {
            worst = metres[i] > metres[worst] ? i : worst;
        }
        return worst;
    }

    /** The most, in metres. */
    public double largest() {
        return metres[worst()];
    }
}
