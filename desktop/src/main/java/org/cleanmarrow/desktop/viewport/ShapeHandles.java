package org.cleanmarrow.desktop.viewport;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import javafx.scene.canvas.GraphicsContext;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.Shape;
import org.cleanmarrow.collision.ShapeNumbers;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.steps.collision.PlaceShape;
import org.joml.Matrix3d;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;

/**
 * Handles on the collision shape in hand: its middle moves it, a knob on each of its sides sizes it, one beside it turns it about the
 * direction looked in. What a drag makes of it is drawn at once, and becomes a step when it ends.
 */
final class ShapeHandles implements Grip {
    private static final double REACH = 9;
    private static final double KNOB = 4.5;
    /** How far beside the middle the handle for turning lies, in pixels. */
    private static final double ASIDE = 58;
    /** No side becomes shorter, metres. */
    private static final double LEAST = 1e-3;

    private static final int MOVE = 0;
    private static final int TURN = 1;
    private static final int SIZE = 2;

    private final Desk desk;
    private int held = -1;
    private Vector3d pressed;
    private ShapeNumbers before;
    private ShapeNumbers now;
    /** Where the node's scale is taken out, of the asset and node for which it was found. */
    private Matrix4d toMetres;

    private Asset metresOf;
    private int metresAt;

    ShapeHandles(Desk desk) {
        this.desk = desk;
    }

    /** The shape in hand that has a place and a size of its own, where shapes are shown. */
    private Optional<Collider> chosen() {
        boolean shown = desk.isOpen()
                && desk.station().get() == Station.COLLISION
                && desk.seeing().shapes().get()
                // Drags are for the bodies then.
                && !desk.letGo().running().get();
        return shown ? desk.selection().collider().filter(c -> !(c.shape() instanceof Shape.Drawn)) : Optional.empty();
    }

    /** All shapes, the one in hand as a drag makes it. */
    List<Collider> shown() {
        List<Collider> all = new ArrayList<>(Bodies.colliders(desk.now()));
        if (held >= 0) {
            chosen().ifPresent(c -> all.set(all.indexOf(c), made(c)));
        }
        return all;
    }

    private Collider made(Collider c) {
        return now.applied(c.moved(metres(c))).moved(metres(c).invert(new Matrix4d()));
    }

    private Matrix4d metres(Collider c) {
        if (metresOf != desk.now() || metresAt != c.node()) {
            metresOf = desk.now();
            metresAt = c.node();
            toMetres = Bodies.toMetres(metresOf, metresAt);
        }
        return toMetres;
    }

    private ShapeNumbers numbers(Collider c) {
        return held >= 0 ? now : ShapeNumbers.of(c.moved(metres(c)));
    }

    /** From the node's axes in metres into the view. */
    private Matrix4d axes(Collider c, Sight sight) {
        return sight.picker().nodeAxes(c.node()).mul(metres(c).invert(new Matrix4d()));
    }

    /** Sides that have a knob: an axis each and whether at its upper end. Balls have one, what is round two. */
    private static List<int[]> sides(Shape shape) {
        List<int[]> out = new ArrayList<>();
        int axes = shape instanceof Shape.Sphere ? 1 : 3;
        boolean round = shape instanceof Shape.Capsule || shape instanceof Shape.Cylinder;
        for (int a = 0; a < axes; a++) {
            out.add(new int[] {a, 1});
            if (!round && axes == 3 || a == 1) {
                out.add(new int[] {a, -1});
            }
        }
        return out;
    }

    private static Vector3d direction(ShapeNumbers numbers, int axis) {
        return numbers.turn().transform(new Vector3d(axis == 0 ? 1 : 0, axis == 1 ? 1 : 0, axis == 2 ? 1 : 0));
    }

    /** Places of all handles in the view. */
    private List<Vector3d> places(Collider c, Sight sight) {
        ShapeNumbers n = numbers(c);
        Matrix4d axes = axes(c, sight);
        List<Vector3d> out = new ArrayList<>();
        Vector3d middle = axes.transformPosition(new Vector3d(n.middle()));
        out.add(middle);
        Vector3d seen = sight.toPicture(middle);
        out.add(sight.beside(middle, seen.x + ASIDE, seen.y - ASIDE / 2));
        for (int[] side : sides(c.shape())) {
            Vector3d at = new Vector3d(n.middle()).fma(side[1] * n.size().get(side[0]) / 2, direction(n, side[0]));
            out.add(axes.transformPosition(at));
        }
        return out;
    }

    private int at(Sight sight, double x, double y) {
        Optional<Collider> chosen = chosen();
        int best = -1;
        double least = REACH;
        List<Vector3d> places = chosen.map(c -> places(c, sight)).orElse(List.of());
        for (int i = 0; i < places.size(); i++) {
            Vector3d p = sight.toPicture(places.get(i));
            double d = Math.hypot(p.x - x, p.y - y);
            if (p.z > 0 && d < least) {
                least = d;
                best = i;
            }
        }
        return best;
    }

    @Override
    public boolean isOver(Sight sight, double x, double y) {
        return at(sight, x, y) >= 0;
    }

    @Override
    public boolean take(Sight sight, double x, double y) {
        int taken = at(sight, x, y);
        if (taken < 0) {
            return false;
        }
        Collider c = chosen().orElseThrow();
        before = numbers(c);
        now = before;
        pressed = sight.beside(places(c, sight).get(MOVE), x, y);
        held = taken;
        return true;
    }

    @Override
    public void drag(Sight sight, double x, double y) {
        Optional<Collider> chosen = chosen();
        if (held < 0 || chosen.isEmpty()) {
            return;
        }
        Collider c = chosen.get();
        Matrix4d axes = axes(c, sight);
        Matrix4d back = axes.invert(new Matrix4d());
        Vector3d middle = axes.transformPosition(new Vector3d(before.middle()));
        if (held == MOVE) {
            Vector3d by = sight.beside(middle, x, y).sub(pressed);
            now = before.at(back.transformDirection(by).add(before.middle()));
        } else if (held == TURN) {
            Vector3d away = sight.towards();
            Vector3d from = new Vector3d(pressed).sub(middle);
            Vector3d to = sight.beside(middle, x, y).sub(middle);
            double angle = Math.atan2(new Vector3d(from).cross(to).dot(away), from.dot(to));
            Matrix3d turn = back.get3x3(new Matrix3d())
                    .mul(new Matrix3d().rotation(angle, away.x, away.y, away.z))
                    .mul(axes.get3x3(new Matrix3d()));
            now = before.turned(new Quaterniond().setFromUnnormalized(turn));
        } else {
            size(c, sight, axes, x, y);
        }
    }

    /** Draws one side to where the pointer comes nearest to its axis; the other side stays, but of what is round. */
    private void size(Collider c, Sight sight, Matrix4d axes, double x, double y) {
        int[] side = sides(c.shape()).get(held - SIZE);
        Vector3d local = direction(before, side[0]).mul(side[1]);
        Vector3d middle = axes.transformPosition(new Vector3d(before.middle()));
        Vector3d along = axes.transformDirection(new Vector3d(local)).normalize();
        Camera.Ray ray = sight.ray(x, y);
        // Where two lines come nearest to each other.
        Vector3d between = new Vector3d(middle).sub(ray.origin());
        double both = along.dot(ray.direction());
        double off = 1 - both * both;
        if (off < 1e-4) {
            return;
        }
        double reach = (both * between.dot(ray.direction()) - between.dot(along)) / off;
        boolean even = c.shape() instanceof Shape.Sphere
                || side[0] != 1 && (c.shape() instanceof Shape.Capsule || c.shape() instanceof Shape.Cylinder);
        double was = before.size().get(side[0]);
        double length = Math.max(LEAST, even ? 2 * reach : reach + was / 2);
        Vector3d moved = new Vector3d(before.middle()).fma(even ? 0 : (length - was) / 2, local);
        Vector3d size = new Vector3d(before.size()).setComponent(side[0], length);
        if (even) {
            size.x = length;
            size.z = length;
            size.y = c.shape() instanceof Shape.Sphere ? length : Math.max(size.y, length);
        }
        now = before.at(moved).sized(size);
    }

    @Override
    public void release() {
        Optional<Collider> chosen = chosen();
        if (held >= 0 && chosen.isPresent() && !now.equals(before)) {
            String node = desk.now().nodeRef(chosen.get().node());
            desk.apply(new PlaceShape(node, chosen.get().name(), PlaceShape.Kind.AS_IS, now.rounded()));
        }
        held = -1;
    }

    @Override
    public void draw(GraphicsContext g, Sight sight) {
        Optional<Collider> chosen = chosen();
        if (chosen.isEmpty()) {
            return;
        }
        List<Vector3d> places = places(chosen.get(), sight);
        Vector3d middle = sight.toPicture(places.get(MOVE));
        Vector3d turns = sight.toPicture(places.get(TURN));
        if (middle.z <= 0) {
            return;
        }
        g.setStroke(Ink.BONE);
        g.setLineWidth(1);
        g.setLineDashes(3, 3);
        g.strokeLine(middle.x, middle.y, turns.x, turns.y);
        g.setLineDashes();
        for (int i = 0; i < places.size(); i++) {
            Vector3d p = sight.toPicture(places.get(i));
            if (p.z > 0) {
                g.setFill(i == held ? Ink.MARROW : Ink.DARK);
                g.setLineWidth(1.5);
                if (i == MOVE) {
                    g.fillRect(p.x - KNOB, p.y - KNOB, 2 * KNOB, 2 * KNOB);
                    g.strokeRect(p.x - KNOB, p.y - KNOB, 2 * KNOB, 2 * KNOB);
                } else {
                    double r = i == TURN ? 1.5 * KNOB : KNOB;
                    g.fillOval(p.x - r, p.y - r, 2 * r, 2 * r);
                    g.strokeOval(p.x - r, p.y - r, 2 * r, 2 * r);
                }
            }
        }
    }
}
