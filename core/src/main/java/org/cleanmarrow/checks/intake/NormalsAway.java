package org.cleanmarrow.checks.intake;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.geometry.TriangleNormals;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.steps.caches.RecomputeNormals;
import org.joml.Vector3d;

/**
 * Vertices whose normal looks to the inside of every triangle around them, as where something was turned inside out, or came back
 * without normals of its own. On what is lit like that light falls from behind.
 */
public final class NormalsAway implements Check {
    /** Farther than that from straight across the triangles: normals that were evened out lie flat now and then. */
    private static final double INWARDS = -0.2;

    private static final double HARD_DEGREES = 60;
    /** Of a mesh's vertices; fewer are a note. */
    private static final double FEW = 0.05;

    @Override
    public String id() {
        return "normals-away";
    }

    @Override
    public Station station() {
        return Station.INTAKE;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        List<Finding> out = new ArrayList<>();
        for (int m = 0; m < asset.meshes().size(); m++) {
            BitSet away = new BitSet();
            int first = 0;
            for (Primitive p : asset.meshes().get(m).primitives()) {
                if (p.normals() != null) {
                    away.or(away(p, p.normals(), first));
                }
                first += p.vertexCount();
            }
            if (!away.isEmpty()) {
                String name = asset.meshRef(m);
                int many = away.cardinality();
                Severity severity = many > FEW * first ? Severity.CAUTION : Severity.NOTE;
                Finding finding =
                        Finding.of(this, severity, "", name, many, many, name).at(Finding.Place.mesh(m, away));
                // Normals may be set by hand: a few that look inwards are no reason to lose all others.
                out.add(2 * many > first ? finding.fixedBy(new RecomputeNormals(name, HARD_DEGREES)) : finding);
            }
        }
        return out;
    }

    private static BitSet away(Primitive p, float[] normals, int first) {
        int many = p.vertexCount();
        BitSet inwards = new BitSet(first + many);
        BitSet outwards = new BitSet(first + many);
        int[] corners = p.triangleCorners();
        float[] x = p.positions();
        float[] numbers = new float[3];
        for (int t = 0; t + 2 < corners.length; t += 3) {
            TriangleNormals.put(corners, t, x, numbers, 0);
            Vector3d face = point(numbers, 0);
            double area = face.length();
            if (Double.isNaN(area)) {
                // There is another finding for it; nothing here can be told.
                return new BitSet();
            }
            for (int c = t; c < t + 3 && area > 0; c++) {
                Vector3d normal = point(normals, corners[c]);
                boolean in = normal.dot(face) < INWARDS * area * normal.length();
                (in ? inwards : outwards).set(first + corners[c]);
            }
        }
        inwards.andNot(outwards);
        return inwards;
    }

    private static Vector3d point(float[] x, int v) {
        return new Vector3d(x[3 * v], x[3 * v + 1], x[3 * v + 2]);
    }
}
