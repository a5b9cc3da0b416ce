package org.cleanmarrow.geometry;

import org.joml.Vector3d;

/** An axis-aligned box. Empty while {@code min} is above {@code max}. */
public record Box(Vector3d min, Vector3d max) {

    public static Box empty() {
        return new Box(new Vector3d(Double.POSITIVE_INFINITY), new Vector3d(Double.NEGATIVE_INFINITY));
    }

    public boolean isEmpty() {
        return min.x > max.x;
    }

    /** Widens this box over points, 3 numbers each; those that are not finite are passed over. */
    public void grow(float[] points) {
        grow(points, points.length);
    }

    /** Widens it over the first numbers of {@code points}. */
    public void grow(float[] points, int numbers) {
        for (int i = 0; i + 2 < numbers; i += 3) {
            if (Float.isFinite(points[i]) && Float.isFinite(points[i + 1]) && Float.isFinite(points[i + 2])) {
                grow(points[i], points[i + 1], points[i + 2]);
            }
        }
    }

    public void grow(double x, double y, double z) {
        min.set(Math.min(min.x, x), Math.min(min.y, y), Math.min(min.z, z));
        max.set(Math.max(max.x, x), Math.max(max.y, y), Math.max(max.z, z));
    }

    /** Whether another comes nearer than a distance along every axis. */
    public boolean near(Box other, double distance) {
        return !isEmpty()
                && !other.isEmpty()
                && min.x - distance <= other.max.x
                && other.min.x - distance <= max.x
                && min.y - distance <= other.max.y
                && other.min.y - distance <= max.y
                && min.z - distance <= other.max.z
                && other.min.z - distance <= max.z;
    }

    public Vector3d size() {
        return isEmpty() ? new Vector3d() : new Vector3d(max).sub(min);
    }

    public Vector3d centre() {
        return isEmpty() ? new Vector3d() : new Vector3d(max).add(min).mul(0.5);
    }

    public double diagonal() {
        return size().length();
    }
}
