package org.cleanmarrow.uv;

import java.util.BitSet;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.surface.MeshTopology;

/**
 * How far a picture is stretched on its way onto a mesh at rest, by the singular values of each triangle's map from the picture
 * to the surface (Sander, Snyder, Gortler and Hoppe 2001, "Texture mapping progressive meshes", section 3). Triangles without
 * area in the picture or on the surface have none: scale and shear are not a number there.
 *
 * @param scale    a triangle's lengths on the surface for one in the picture, against the mean of all: 2 is half as many texels
 * @param shear    the longer singular value by the shorter; 1 is no distortion of angles
 * @param mirrored triangles that show the picture the wrong way round
 * @param root     root of the mean square stretch of the whole (their L2), 1 at best: where all are equally large and undistorted
 */
public record UvStretch(float[] scale, float[] shear, BitSet mirrored, double root) {
    /** The stretch of a mesh's triangles as a layout has them. */
    public static UvStretch of(Mesh mesh, UvLayout layout) {
        return of(MeshTopology.restPositions(mesh), layout.corners(), layout.uv());
    }

    static UvStretch of(float[] positions, int[] corners, float[] uv) {
        int n = corners.length / 3;
        float[] scale = new float[n];
        float[] shear = new float[n];
        BitSet mirrored = new BitSet();
        double[] square = new double[2];
        double onSurface = 0;
        double inPicture = 0;
        double stretched = 0;
        for (int t = 0; t < n; t++) {
            double twice = UvLayout.twiceArea(uv, corners, t);
            double area = singular(positions, corners, uv, t, twice, square);
            scale[t] = Float.NaN;
            shear[t] = Float.NaN;
            if (twice > 0) {
                mirrored.set(t);
            }
            if (twice != 0 && area > 0) {
                scale[t] = (float) Math.sqrt(2 * area / Math.abs(twice));
                shear[t] = (float) Math.sqrt(square[0] / square[1]);
                onSurface += area;
                inPicture += Math.abs(twice) / 2;
                stretched += area * (square[0] + square[1]) / 2;
            }
        }
        double mean = Math.sqrt(onSurface / inPicture);
        for (int t = 0; t < n; t++) {
            scale[t] = (float) (scale[t] / mean);
        }
        return new UvStretch(scale, shear, mirrored, Math.sqrt(stretched / onSurface) / mean);
    }

    /**
     * Squares of the larger and the smaller singular value of a triangle's map from picture to surface, into two numbers.
     *
     * @return its area on the surface
     */
    static double singular(float[] p, int[] corners, float[] uv, int t, double twice, double[] square) {
        int a = corners[3 * t];
        int b = corners[3 * t + 1];
        int c = corners[3 * t + 2];
        double uv1 = (double) uv[2 * b] - uv[2 * a];
        double uv2 = (double) uv[2 * c] - uv[2 * a];
        double vv1 = (double) uv[2 * b + 1] - uv[2 * a + 1];
        double vv2 = (double) uv[2 * c + 1] - uv[2 * a + 1];
        double ss = 0;
        double st = 0;
        double tt = 0;
        double[] e1 = new double[3];
        double[] e2 = new double[3];
        for (int k = 0; k < 3; k++) {
            e1[k] = (double) p[3 * b + k] - p[3 * a + k];
            e2[k] = (double) p[3 * c + k] - p[3 * a + k];
            double s = (e1[k] * vv2 - e2[k] * vv1) / twice;
            double v = (e2[k] * uv1 - e1[k] * uv2) / twice;
            ss += s * s;
            st += s * v;
            tt += v * v;
        }
        double root = Math.sqrt((ss - tt) * (ss - tt) + 4 * st * st);
        square[0] = (ss + tt + root) / 2;
        double x = e1[1] * e2[2] - e1[2] * e2[1];
        double y = e1[2] * e2[0] - e1[0] * e2[2];
        double z = e1[0] * e2[1] - e1[1] * e2[0];
        double area = Math.sqrt(x * x + y * y + z * z) / 2;
        // The product of both is the ratio of the areas; a difference of large numbers would lose the smaller.
        double ratio = 2 * area / Math.abs(twice);
        square[1] = ratio * ratio / square[0];
        return area;
    }
}
