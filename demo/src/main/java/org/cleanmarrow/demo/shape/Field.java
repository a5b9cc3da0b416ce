package org.cleanmarrow.demo.shape;

import org.joml.Vector3d;

/** An implicit surface: negative inside, zero on it, positive outside, in metres and roughly a distance. */
public interface Field {
    double at(double x, double y, double z);

    static Field sphere(double cx, double cy, double cz, double r) {
        return (x, y, z) -> length(x - cx, y - cy, z - cz) - r;
    }

    static Field ellipsoid(double cx, double cy, double cz, double rx, double ry, double rz) {
        double least = Math.min(rx, Math.min(ry, rz));
        return (x, y, z) -> {
            double k0 = length((x - cx) / rx, (y - cy) / ry, (z - cz) / rz);
            double k1 = length((x - cx) / (rx * rx), (y - cy) / (ry * ry), (z - cz) / (rz * rz));
            return k1 == 0 ? -least : k0 * (k0 - 1) / k1;
        };
    }

    /** A limb: a capsule whose radius goes from one end to the other. */
    static Field limb(Vector3d a, Vector3d b, double ra, double rb) {
        double dx = b.x - a.x;
        double dy = b.y - a.y;
        double dz = b.z - a.z;
        double square = dx * dx + dy * dy + dz * dz;
        return (x, y, z) -> {
            double t = ((x - a.x) * dx + (y - a.y) * dy + (z - a.z) * dz) / square;
            t = Math.clamp(t, 0, 1);
            return length(x - a.x - t * dx, y - a.y - t * dy, z - a.z - t * dz) - ra - t * (rb - ra);
        };
    }

    static Field box(double cx, double cy, double cz, double hx, double hy, double hz, double round) {
        return (x, y, z) -> {
            double qx = Math.abs(x - cx) - hx + round;
            double qy = Math.abs(y - cy) - hy + round;
            double qz = Math.abs(z - cz) - hz + round;
            double outside = length(Math.max(qx, 0), Math.max(qy, 0), Math.max(qz, 0));
            return outside + Math.min(Math.max(qx, Math.max(qy, qz)), 0) - round;
        };
    }

    /** A ring around an axis through its centre. */
    static Field ring(Vector3d centre, Vector3d axis, double radius, double thickness) {
        Vector3d n = new Vector3d(axis).normalize();
        return (x, y, z) -> {
            double px = x - centre.x;
            double py = y - centre.y;
            double pz = z - centre.z;
            double h = px * n.x + py * n.y + pz * n.z;
            double r = Math.sqrt(Math.max(0, px * px + py * py + pz * pz - h * h));
            return length(r - radius, h, 0) - thickness;
        };
    }

    /** Both together, flowing into each other over about the given width. */
    default Field with(Field other, double blend) {
        return (x, y, z) -> smoothMin(at(x, y, z), other.at(x, y, z), blend);
    }

    /** This with the other taken out. */
    default Field without(Field other, double blend) {
        return (x, y, z) -> -smoothMin(-at(x, y, z), other.at(x, y, z), blend);
    }

    /** Only what is above a height. */
    default Field above(double height, double blend) {
        return (x, y, z) -> -smoothMin(-at(x, y, z), y - height, blend);
    }

    /** Only what is below a height. */
    default Field below(double height, double blend) {
        return (x, y, z) -> -smoothMin(-at(x, y, z), height - y, blend);
    }

    private static double smoothMin(double a, double b, double k) {
        double h = Math.max(k - Math.abs(a - b), 0) / k;
        return Math.min(a, b) - h * h * k * 0.25;
    }

    private static double length(double x, double y, double z) {
        return Math.sqrt(x * x + y * y + z * z);
    }

    /** Direction in which the field rises fastest, of unit length. */
    default Vector3d slope(double x, double y, double z) {
        double e = 5e-4;
        Vector3d n = new Vector3d(
                at(x + e, y, z) - at(x - e, y, z),
                at(x, y + e, z) - at(x, y - e, z),
                at(x, y, z + e) - at(x, y, z - e));
        return n.lengthSquared() == 0 ? n.set(0, 1, 0) : n.normalize();
    }
}
