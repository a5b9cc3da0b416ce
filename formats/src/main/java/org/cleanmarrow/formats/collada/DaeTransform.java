package org.cleanmarrow.formats.collada;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.xml.XmlNode;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.pose.Baker;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/** The transforms of a node in the order of the file; the node's own is their product (COLLADA 1.4.1, node). */
final class DaeTransform {
    private static final Map<String, Integer> WIDTHS =
            Map.of("matrix", 16, "translate", 3, "scale", 3, "rotate", 4, "lookat", 9, "skew", 7);
    static final Set<String> NAMES = WIDTHS.keySet();
    /** Largest shear that counts as none, as a cosine. */
    private static final double STRAIGHT = 1e-5;

    private final List<Part> parts = new ArrayList<>();

    /** One transform element with the numbers it holds. */
    record Part(String kind, String sid, float[] values) {}

    static DaeTransform read(XmlNode node) throws ReadFailed {
        DaeTransform out = new DaeTransform();
        for (XmlNode child : node.children()) {
            Integer width = WIDTHS.get(child.name());
            if (width == null) {
                continue;
            }
            float[] values = child.floats();
            if (values.length != width) {
                throw child.wrong("expected " + width + " numbers, found " + values.length);
            }
            out.parts.add(new Part(child.name(), child.get("sid"), values));
        }
        return out;
    }

    List<Part> parts() {
        return parts;
    }

    /** Number of the part with a sid, or -1. */
    int find(String sid) {
        for (int i = 0; i < parts.size(); i++) {
            if (parts.get(i).sid.equals(sid)) {
                return i;
            }
        }
        return -1;
    }

    /** Copies of the numbers of all parts, to be changed for a moment of an animation. */
    float[][] values() {
        return parts.stream().map(p -> p.values.clone()).toArray(float[][]::new);
    }

    Matrix4d matrix(float[][] values) {
        Matrix4d out = new Matrix4d();
        for (int i = 0; i < parts.size(); i++) {
            out.mul(one(parts.get(i).kind, values[i]));
        }
        return out;
    }

    private static Matrix4d one(String kind, float[] v) {
        return switch (kind) {
            case "matrix" -> rows(v);
            case "translate" -> new Matrix4d().translation(v[0], v[1], v[2]);
            case "scale" -> new Matrix4d().scaling(v[0], v[1], v[2]);
            case "rotate" -> {
                Vector3d axis = new Vector3d(v[0], v[1], v[2]);
                yield axis.length() > 0
                        ? new Matrix4d().rotation(Math.toRadians(v[3]), axis.normalize())
                        : new Matrix4d();
            }
            case "lookat" ->
                new Matrix4d()
                        .lookAt(v[0], v[1], v[2], v[3], v[4], v[5], v[6], v[7], v[8])
                        .invert();
            default -> skew(v);
        };
    }

    /** A matrix as the format writes it, row by row. */
    static Matrix4d rows(float[] v) {
        Matrix4d m = new Matrix4d();
        for (int r = 0; r < 4; r++) {
            for (int c = 0; c < 4; c++) {
                m.set(c, r, v[r * 4 + c]);
            }
        }
        return m;
    }

    /** Points move along the second axis by their distance along the first, times the tangent of the angle. */
    private static Matrix4d skew(float[] v) {
        Vector3d along = new Vector3d(v[1], v[2], v[3]).normalize();
        Vector3d by = new Vector3d(v[4], v[5], v[6]).normalize();
        double tangent = Math.tan(Math.toRadians(v[0]));
        Matrix4d m = new Matrix4d();
        for (int r = 0; r < 3; r++) {
            for (int c = 0; c < 3; c++) {
                m.set(c, r, m.get(c, r) + tangent * along.get(r) * by.get(c));
            }
        }
        return m;
    }

    /** Translation, rotation and scale where those can hold the matrix; otherwise the matrix. */
    static Local local(Matrix4d m) {
        double shear = Baker.shear(m);
        // Without size along an axis there is no number either.
        return shear <= STRAIGHT ? Baker.parts(m) : Local.ofMatrix(m);
    }
}
