package org.cleanmarrow.simulation;

import static org.ode4j.ode.OdeConstants.dContactApprox1;
import static org.ode4j.ode.OdeConstants.dContactBounce;

import java.util.Arrays;
import java.util.HashSet;
import java.util.Set;
import java.util.stream.IntStream;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.Filter;
import org.cleanmarrow.collision.Frame;
import org.cleanmarrow.collision.Shape;
import org.jspecify.annotations.Nullable;
import org.ode4j.math.DVector3;
import org.ode4j.ode.DBody;
import org.ode4j.ode.DContact;
import org.ode4j.ode.DContactBuffer;
import org.ode4j.ode.DContactJoint;
import org.ode4j.ode.DGeom;
import org.ode4j.ode.DJointGroup;
import org.ode4j.ode.DSpace;
import org.ode4j.ode.DWorld;
import org.ode4j.ode.OdeHelper;

/** Where bodies touch at a step, how they rub and bounce there, and which of them pass each other. */
final class BodyContacts {
    /** What the floor rubs and bounces like. */
    static final Collider FLOOR = new Collider("floor", 0, Frame.NONE, new Shape.Box(1, 1, 1));

    private static final int MOST = 8;
    /** Found at first; of more than are wanted those that lie farthest from each other. */
    private static final int MOST_FOUND = 64;

    private final DWorld world;
    private final DSpace space;
    private final DJointGroup touching = OdeHelper.createJointGroup();
    private final DContactBuffer found = new DContactBuffer(MOST_FOUND);
    private final Set<Long> unmet = new HashSet<>();

    BodyContacts(DWorld world, DSpace space) {
        this.world = world;
        this.space = space;
    }

    /** Lets two bodies pass each other. */
    void keepApart(BodyWorld.Moved a, BodyWorld.Moved b) {
        unmet.add(pair(a, b));
    }

    /** Puts a joint wherever bodies touch now. */
    void find() {
        space.collide(null, (data, a, b) -> touch(a, b));
    }

    /** Takes them away again. */
    void clear() {
        touching.empty();
    }

    private static long pair(BodyWorld.Moved a, BodyWorld.Moved b) {
        return (long) Math.min(a.node(), b.node()) << 32 | Math.max(a.node(), b.node());
    }

    private void touch(DGeom a, DGeom b) {
        BodyWorld.Moved x = moved(a);
        BodyWorld.Moved y = moved(b);
        Collider one = (Collider) a.getData();
        Collider other = (Collider) b.getData();
        boolean free = x != null && x.free() || y != null && y.free();
        if (x == y
                || !free
                || x != null && y != null && unmet.contains(pair(x, y))
                || Filter.apart(one.filter(), other.filter())) {
            return;
        }
        int many = OdeHelper.collide(a, b, MOST_FOUND, found.getGeomBuffer());
        for (int i : spread(many)) {
            DContact contact = found.get(i);
            contact.surface.mode = dContactApprox1 | dContactBounce;
            contact.surface.mu = combined(
                    one.surface().dynamicFriction(),
                    other.surface().dynamicFriction(),
                    one.surface().frictions());
            contact.surface.bounce = combined(
                    one.surface().restitution(),
                    other.surface().restitution(),
                    one.surface().restitutions());
            // Slower than this nothing bounces, so that what lies comes to rest.
            contact.surface.bounce_vel = 0.1;
            DContactJoint joint = OdeHelper.createContactJoint(world, touching, contact);
            joint.attach(x == null ? null : x.body(), y == null ? null : y.body());
        }
    }

    /** All contacts where they are few; else the deepest, and time and again the one farthest from those taken. */
    private int[] spread(int many) {
        if (many <= MOST) {
            return IntStream.range(0, many).toArray();
        }
        double[] far = new double[many];
        Arrays.fill(far, Double.POSITIVE_INFINITY);
        int[] out = new int[MOST];
        int next = 0;
        for (int i = 1; i < many; i++) {
            next = found.get(i).geom.depth > found.get(next).geom.depth ? i : next;
        }
        for (int k = 0; k < MOST; k++) {
            out[k] = next;
            DVector3 taken = found.get(next).geom.pos;
            next = 0;
            for (int i = 0; i < many; i++) {
                DVector3 p = found.get(i).geom.pos;
                far[i] = Math.min(
                        far[i],
                        Math.hypot(
                                Math.hypot(p.get0() - taken.get0(), p.get1() - taken.get1()), p.get2() - taken.get2()));
                next = far[i] > far[next] ? i : next;
            }
        }
        return out;
    }

    /** Null for the floor. */
    private static BodyWorld.@Nullable Moved moved(DGeom geom) {
        DBody body = geom.getBody();
        return body == null ? null : (BodyWorld.Moved) body.getData();
    }

    private static double combined(double a, double b, String how) {
        return switch (how) {
            case "minimum" -> Math.min(a, b);
            case "maximum" -> Math.max(a, b);
            case "multiply" -> a * b;
            default -> (a + b) / 2;
        };
    }
}
