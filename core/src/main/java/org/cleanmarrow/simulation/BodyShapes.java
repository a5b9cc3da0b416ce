package org.cleanmarrow.simulation;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.Hull;
import org.cleanmarrow.collision.RigidBody;
import org.cleanmarrow.collision.Shape;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.surface.MeshTopology;
import org.joml.Matrix3d;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;
import org.ode4j.math.DMatrix3;
import org.ode4j.math.DQuaternion;
import org.ode4j.ode.DBody;
import org.ode4j.ode.DGeom;
import org.ode4j.ode.DMass;
import org.ode4j.ode.DSpace;
import org.ode4j.ode.DTriMeshData;
import org.ode4j.ode.OdeHelper;

/**
 * The shapes of one body as the library has them, and what they weigh. A capsule of two radii is the narrower one with a ball at
 * its wide end, a cone its hull; a surface that is not convex, or a part as it is drawn, its triangles.
 */
final class BodyShapes {
    private static final double DENSITY = 1000;
    /** What has no shape weighs what is said as a ball of this radius, metres. */
    private static final double NO_SHAPE = 0.1;

    private final Asset asset;
    private final Matrix4d[] rest;
    private final Matrix4d back;
    private final double metres;
    private final DMass mass = OdeHelper.createMass();
    private final List<Placed> placed = new ArrayList<>();
    private boolean any;

    /** @param at in the body's node's axes, metres */
    private record Placed(DGeom geom, Matrix4d at) {}

    BodyShapes(Asset asset, Matrix4d[] rest, int node, double metres) {
        this.asset = asset;
        this.rest = rest;
        this.metres = metres;
        back = unscaled(rest[node], rest[node].getScale(new Vector3d()), metres).invert();
        mass.setZero();
    }

    /** A place in metres, its axes of unit length and right-handed. */
    static Matrix4d unscaled(Matrix4d world, Vector3d scale, double metres) {
        Vector3d origin = world.getTranslation(new Vector3d()).mul(metres);
        double mirrored = world.determinant3x3() < 0 ? -1 : 1;
        return new Matrix4d(world)
                .scale(mirrored / scale.x, 1 / scale.y, 1 / scale.z)
                .setTranslation(origin);
    }

    /** Takes a collider in; what cannot be is left out. */
    void add(Collider c, DSpace space) {
        int n = c.node();
        Vector3d scale = rest[n].getScale(new Vector3d());
        Matrix4d size = Bodies.toMetres(asset, rest[n]);
        Collider inMetres = c.moved(size);
        Matrix4d at = new Matrix4d(back)
                .mul(unscaled(rest[n], scale, metres))
                .mul(inMetres.at().proper(false).matrix());
        switch (inMetres.shape()) {
            case Shape.Sphere s -> {
                DMass own = OdeHelper.createMass();
                own.setSphere(DENSITY, s.radius());
                put(OdeHelper.createSphere(space, s.radius()), own, at, c);
            }
            case Shape.Box b -> {
                DMass own = OdeHelper.createMass();
                own.setBox(DENSITY, b.x(), b.y(), b.z());
                put(OdeHelper.createBox(space, b.x(), b.y(), b.z()), own, at, c);
            }
            case Shape.Capsule k -> capsule(k, at, c, space);
            case Shape.Cylinder k
            when k.bottom() == k.top() -> {
                DMass own = OdeHelper.createMass();
                own.setCylinder(DENSITY, 3, k.bottom(), k.height());
                put(OdeHelper.createCylinder(space, k.bottom(), k.height()), own, upright(at), c);
            }
            case Shape.Drawn d -> drawn(c, d, at, size, space);
            default -> hull(inMetres.shape(), at, c, space);
        }
    }

    /** The library's capsules and cylinders lie along z, ours stand along y. */
    private static Matrix4d upright(Matrix4d at) {
        return new Matrix4d(at).rotateX(-Math.PI / 2);
    }

    private void capsule(Shape.Capsule k, Matrix4d at, Collider c, DSpace space) {
        double narrow = Math.min(k.bottom(), k.top());
        double wide = Math.max(k.bottom(), k.top());
        DMass own = OdeHelper.createMass();
        if (k.height() > 0) {
            own.setCapsule(DENSITY, 3, (narrow + wide) / 2, k.height());
            put(OdeHelper.createCapsule(space, narrow, k.height()), own, upright(at), c);
        }
        if (k.height() == 0 || wide > narrow) {
            double end = k.bottom() > k.top() ? -k.height() / 2 : k.height() / 2;
            own.setSphere(k.height() == 0 ? DENSITY : 1e-9, wide);
            put(OdeHelper.createSphere(space, wide), own, new Matrix4d(at).translate(0, end, 0), c);
        }
    }

    private void drawn(Collider c, Shape.Drawn d, Matrix4d at, Matrix4d size, DSpace space) {
        int mesh = asset.nodes().get(c.node()).mesh();
        if (mesh < 0) {
            return;
        }
        MeshTopology topology = MeshTopology.of(asset.meshes().get(mesh));
        float[] p = MeshTopology.restPositions(asset.meshes().get(mesh)).clone();
        Vector3d v = new Vector3d();
        for (int i = 0; i < p.length; i += 3) {
            size.transformPosition(v.set(p[i], p[i + 1], p[i + 2]));
            p[i] = (float) v.x;
            p[i + 1] = (float) v.y;
            p[i + 2] = (float) v.z;
        }
        Shape.Solid solid = new Shape.Solid(p, topology.corners(), d.convex());
        if (d.convex()) {
            hull(solid, at, c, space);
        } else if (topology.corners().length > 0) {
            triangles(solid, at, c, space);
        }
    }

    private void hull(Shape shape, Matrix4d at, Collider c, DSpace space) {
        if (shape instanceof Shape.Solid solid && !solid.convex()) {
            triangles(solid, at, c, space);
            return;
        }
        List<Vector3d> skin = shape.skin();
        double[] points = new double[3 * skin.size()];
        for (int i = 0; i < skin.size(); i++) {
            points[3 * i] = skin.get(i).x;
            points[3 * i + 1] = skin.get(i).y;
            points[3 * i + 2] = skin.get(i).z;
        }
        Hull.of(points).ifPresent(h -> {
            int[] faces = new int[h.triangles().length / 3 * 4];
            double[] planes = new double[faces.length];
            double[][] of = h.planes();
            for (int t = 0; t < of.length; t++) {
                faces[4 * t] = 3;
                System.arraycopy(h.triangles(), 3 * t, faces, 4 * t + 1, 3);
                System.arraycopy(of[t], 0, planes, 4 * t, 4);
            }
            put(OdeHelper.createConvex(space, planes, h.points(), faces), weighed(h), at, c);
        });
    }

    private void triangles(Shape.Solid solid, Matrix4d at, Collider c, DSpace space) {
        DTriMeshData data = OdeHelper.createTriMeshData();
        data.build(solid.points(), solid.triangles());
        data.preprocess();
        DMass own = Hull.around(solid).map(BodyShapes::weighed).orElseGet(OdeHelper::createMass);
        put(OdeHelper.createTriMesh(space, data, null, null, null), own, at, c);
    }

    /** A solid of triangles, by the tetrahedra between them and its middle. */
    private static DMass weighed(Hull hull) {
        DMass out = OdeHelper.createMass();
        out.setZero();
        double[] p = hull.points();
        double volume = 0;
        Vector3d centre = new Vector3d();
        double[] square = new double[6];
        for (int t = 0; t < hull.triangles().length; t += 3) {
            Vector3d a = corner(p, hull.triangles()[t]);
            Vector3d b = corner(p, hull.triangles()[t + 1]);
            Vector3d d = corner(p, hull.triangles()[t + 2]);
            double six = a.dot(b.cross(d, new Vector3d()));
            volume += six / 6;
            Vector3d sum = new Vector3d(a).add(b).add(d);
            centre.fma(six / 24, sum);
            for (int i = 0; i < 6; i++) {
                int r = i < 3 ? i : i == 5 ? 1 : 0;
                int k = i < 3 ? i : i == 3 ? 1 : 2;
                // Of a tetrahedron with a corner at the origin: (sum of products + product of sums) / 20 volumes.
                double products = a.get(r) * a.get(k) + b.get(r) * b.get(k) + d.get(r) * d.get(k);
                square[i] += six / 120 * (products + sum.get(r) * sum.get(k));
            }
        }
        if (!(volume > 0)) {
            return out;
        }
        centre.div(volume);
        double[] about = new double[6];
        for (int i = 0; i < 6; i++) {
            int r = i < 3 ? i : i == 5 ? 1 : 0;
            int k = i < 3 ? i : i == 3 ? 1 : 2;
            about[i] = DENSITY * (square[i] - volume * centre.get(r) * centre.get(k));
        }
        out.setParameters(
                DENSITY * volume,
                0,
                0,
                0,
                about[1] + about[2],
                about[0] + about[2],
                about[0] + about[1],
                -about[3],
                -about[4],
                -about[5]);
        out.translate(centre.x, centre.y, centre.z);
        return out;
    }

    private static Vector3d corner(double[] p, int i) {
        return new Vector3d(p[3 * i], p[3 * i + 1], p[3 * i + 2]);
    }

    private void put(DGeom geom, DMass own, Matrix4d at, Collider c) {
        geom.setData(c);
        placed.add(new Placed(geom, at));
        if (own.getMass() > 0) {
            own.rotate(matrix(at.getNormalizedRotation(new Quaterniond())));
            own.translate(at.m30(), at.m31(), at.m32());
            mass.add(own);
            any = true;
        }
    }

    /** The centre of mass in the body's node's axes, metres: as it is said, else by the shapes. */
    Vector3d centre(RigidBody.Mass said, Vector3d scale, boolean mirrored) {
        if (said.centre().isFinite()) {
            return new Vector3d(said.centre())
                    .mul(mirrored ? -scale.x : scale.x, scale.y, scale.z)
                    .mul(metres);
        }
        return any
                ? new Vector3d(
                        mass.getC().get0(), mass.getC().get1(), mass.getC().get2())
                : new Vector3d();
    }

    /** What the body weighs, about its centre of mass: as is said, spread as the shapes are. */
    DMass mass(RigidBody.Mass said) {
        if (!any) {
            mass.setSphereTotal(said.kilograms() > 0 ? said.kilograms() : 1, NO_SHAPE);
            return mass;
        }
        mass.translate(-mass.getC().get0(), -mass.getC().get1(), -mass.getC().get2());
        if (said.kilograms() > 0) {
            mass.adjust(said.kilograms());
        }
        return mass;
    }

    /** Hangs all shapes on a body whose origin is its centre of mass. */
    void attach(DBody body, Vector3d centre) {
        for (Placed one : placed) {
            Vector3d at = one.at.getTranslation(new Vector3d()).sub(centre);
            one.geom.setBody(body);
            one.geom.setOffsetPosition(at.x, at.y, at.z);
            one.geom.setOffsetQuaternion(quaternion(one.at.getNormalizedRotation(new Quaterniond())));
        }
    }

    static DQuaternion quaternion(Quaterniond q) {
        return new DQuaternion(q.w, q.x, q.y, q.z);
    }

    private static DMatrix3 matrix(Quaterniond q) {
        Matrix3d m = q.get(new Matrix3d());
        return new DMatrix3(m.m00, m.m10, m.m20, m.m01, m.m11, m.m21, m.m02, m.m12, m.m22);
    }
}
