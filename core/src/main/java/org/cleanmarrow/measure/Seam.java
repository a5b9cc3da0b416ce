package org.cleanmarrow.measure;

import org.cleanmarrow.geometry.Turn;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.work.Work;
import org.joml.AxisAngle4d;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;

/**
 * How a clip jumps where it begins again: from its last pose to its first, and from the speed it ends with to the one it begins
 * with, each where it is worst. Speeds are those over the first and the last frame.
 *
 * @param metres           between last and first pose, at the worst vertex
 * @param metresPerSecond  between the two speeds, at the worst vertex
 * @param degreesPerSecond between the two turning speeds, of the worst node
 * @param node             that node, or -1 where none turns
 */
public record Seam(double metres, double metresPerSecond, double degreesPerSecond, int node) {
    public static final Seam NONE = new Seam(0, 0, 0, -1);

    /** Cost: four poses of all vertices. */
    public static Seam of(Asset asset, Clip clip, Work work) {
        return clip.seconds() > 0 ? of(new ClipDifference(asset), clip, work) : NONE;
    }

    /** The same on an asset that was made ready for clips to be compared. */
    public static Seam of(ClipDifference on, Clip clip, Work work) {
        double frame = Math.min(1 / clip.rate(), clip.seconds());
        double[] times = {clip.start(), clip.start() + frame, clip.end() - frame, clip.end()};
        float[][][] at = new float[4][][];
        Matrix4d[][] world = new Matrix4d[4][];
        for (int i = 0; i < 4; i++) {
            work.stopIfCancelled();
            Pose pose = on.pose(clip, times[i]);
            world[i] = pose.world();
            at[i] = on.points(pose, world[i]);
        }
        double jump = 0;
        double change = 0;
        for (int m = 0; m < at[0].length; m++) {
            for (int v = 0; v < at[0][m].length; v += 3) {
                double apart = 0;
                double faster = 0;
                for (int i = v; i < v + 3; i++) {
                    double d = (double) at[3][m][i] - at[0][m][i];
                    double s = ((double) at[1][m][i] - at[0][m][i]) - ((double) at[3][m][i] - at[2][m][i]);
                    apart += d * d;
                    faster += s * s;
                }
                jump = Math.max(jump, apart);
                change = Math.max(change, faster);
            }
        }
        double turn = 0;
        int node = -1;
        for (int n = 0; n < world[0].length; n++) {
            double faster = turning(world[0][n], world[1][n])
                    .sub(turning(world[2][n], world[3][n]))
                    .length();
            if (faster > turn) {
                turn = faster;
                node = n;
            }
        }
        return new Seam(Math.sqrt(jump), Math.sqrt(change) / frame, Math.toDegrees(turn) / frame, node);
    }

    /** The turn from one place to another: its axis, as long as its angle. Flat places do not turn. */
    private static Vector3d turning(Matrix4d from, Matrix4d to) {
        Quaterniond a = Turn.of(from);
        AxisAngle4d turn = new AxisAngle4d(Turn.of(to).mul(a.conjugate()));
        double angle = turn.angle > Math.PI ? turn.angle - 2 * Math.PI : turn.angle;
        return new Vector3d(turn.x, turn.y, turn.z).mul(angle);
    }
}
