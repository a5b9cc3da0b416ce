package org.cleanmarrow.steps.skeleton;

import java.util.BitSet;
import java.util.Locale;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.edit.ReparentKeepingWorld;
import org.cleanmarrow.geometry.CylinderFit;
import org.cleanmarrow.geometry.Turn;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.steps.scale.SetPivot;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.text.Length;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;
import org.joml.Matrix3d;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/**
 * Puts the pivot of a part or joint in the axis of a hinge, found by laying a cylinder through chosen vertices, and turns
 * its own axes so that x runs along the hinge. Nothing moves.
 */
@StepInfo(
        name = "pivot-to-hinge",
        says = "Puts a pivot in the axis of a hinge, fitted to selected vertices, x along it; nothing moves.")
public record PivotToHinge(
        @Parameter(says = "node of the part or joint") String part,

        @Parameter(says = "name of the mesh that has the hinge")
        String mesh,

        @Parameter(says = "vertices of the hinge's barrel or pin; whole triangles among them count")
        VertexSet vertices)
        implements Step {
    /** A barrel that the vertices miss by more than this share of its radius is none. */
    private static final double ROUND = 0.1;

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        int n = Names.node(asset, part);
        int m = Names.mesh(asset, mesh);
        Mesh chosen = asset.meshes().get(m);
        CylinderFit fit = CylinderFit.of(triangles(asset, m, vertices.on(chosen)));
        if (fit == null || !(fit.deviation() <= ROUND * fit.radius())) {
            throw new Refused("hinge.not.round", mesh);
        }
        Vector3d c = fit.centre();
        Change pivoted = new SetPivot(part, SetPivot.To.POINT, "", c.x, c.y, c.z).apply(asset, work);
        Asset placed = pivoted.asset();
        Matrix3d own = new Matrix3d().set(Turn.of(new Rig(placed).rest().world()[n]));
        Matrix3d change = new Matrix3d()
                .rotation(new org.joml.Quaterniond()
                        .rotationTo(
                                new Vector3d(1, 0, 0),
                                own.transpose(new Matrix3d()).transform(facing(fit.axis(), own))));
        Asset out = placed;
        if (!change.equals(new Matrix3d(), 1e-9)) {
            ReparentKeepingWorld rehang = new ReparentKeepingWorld(placed);
            rehang.frame(n, new Matrix4d().set3x3(change));
            out = rehang.done(work);
        }
        double metres = asset.conventions().metresPerUnit();
        return Change.of(out)
                .count("pivots.set", 1)
                .note(
                        "hinge.found",
                        new Length(fit.radius() * metres),
                        String.format(Locale.ROOT, "%.2f", fit.deviation() * metres * 1000));
    }

    /** Of the axis and its opposite the one that needs the smaller turn. */
    private static Vector3d facing(Vector3d axis, Matrix3d own) {
        Vector3d x = own.getColumn(0, new Vector3d());
        return axis.dot(x) < 0 ? new Vector3d(axis).negate() : new Vector3d(axis);
    }

    private static float[] triangles(Asset asset, int m, BitSet vertices) throws Refused {
        Deformer deformer = new Deformer(asset);
        MeshPlace place = deformer.places().stream()
                .filter(p -> p.mesh() == m)
                .findFirst()
                .orElseThrow(() -> new Refused("part.no.mesh", asset.meshRef(m)));
        float[] at = deformer.positions(place, new Rig(asset).rest());
        int[] corners = MeshTopology.of(asset.meshes().get(m)).corners();
        float[] out = new float[corners.length * 3];
        int size = 0;
        for (int t = 0; t + 2 < corners.length; t += 3) {
            if (vertices.get(corners[t]) && vertices.get(corners[t + 1]) && vertices.get(corners[t + 2])) {
                for (int i = 0; i < 3; i++) {
                    System.arraycopy(at, corners[t + i] * 3, out, size, 3);
                    size += 3;
                }
            }
        }
        return java.util.Arrays.copyOf(out, size);
    }
}
