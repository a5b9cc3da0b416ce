package org.cleanmarrow.desktop.desk;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Optional;
import javafx.beans.property.ObjectProperty;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;

/** What is in hand of the asset that is looked at: a joint, vertices, what the joint is compared with, what is locked. */
public final class Selection {
    private final Whole<DeskState> desk;
    private final ObjectProperty<String> joint;
    private final ObjectProperty<String> compared;
    private final ObjectProperty<String> locked;
    private final ObjectProperty<ShapeName> shape;
    private final ObjectProperty<Chosen> chosen;

    /**
     * Chosen vertices of one mesh.
     *
     * @param mesh number in the asset that is looked at, or -1
     */
    public record Chosen(int mesh, BitSet vertices) {
        public static final Chosen NONE = new Chosen(-1, new BitSet());

        public boolean isEmpty() {
            return mesh < 0 || vertices.isEmpty();
        }
    }

    /**
     * A collision shape.
     *
     * @param node as the asset names it
     * @param name its own; may be empty
     */
    public record ShapeName(String node, String name) {}

    Selection(Whole<DeskState> desk) {
        this.desk = desk;
        chosen = desk.part(s -> s.held().chosen(), (s, next) -> s.with(s.held().with(next)));
        locked = desk.part(s -> s.held().locked(), (s, next) -> s.with(s.held().locking(next)));
        compared =
                desk.part(s -> s.held().compared(), (s, next) -> s.with(s.held().comparedWith(next)));
        joint = desk.part(s -> s.held().joint(), (s, next) -> s.with(s.held().withJoint(next)));
        shape = desk.part(s -> s.held().shape(), (s, next) -> s.with(s.held().with(next)));
    }

    private Optional<Asset> looked() {
        return desk.now().asset();
    }

    /** The collision shape in hand; null for none. */
    public ObjectProperty<ShapeName> shape() {
        return shape;
    }

    /** The collision shape in hand, as it is in the asset looked at. */
    public Optional<Collider> collider() {
        return looked().flatMap(desk.now().held()::collider);
    }

    public ObjectProperty<String> joint() {
        return joint;
    }

    /** Node number of the joint in hand in the asset looked at, or -1. */
    public int jointNode() {
        String name = joint.get();
        return name.isEmpty() ? -1 : looked().map(a -> a.findNode(name)).orElse(-1);
    }

    /** The joint that the one in hand is compared with; empty for none. */
    public ObjectProperty<String> compared() {
        return compared;
    }

    /** Names of the joints whose weights are not touched, with commas between. */
    public ObjectProperty<String> locked() {
        return locked;
    }

    public String lockedJoints() {
        return locked.get();
    }

    /** Locks the joint in hand, or unlocks it. */
    public void toggleLock() {
        List<String> names = new ArrayList<>(List.of(locked.get().split(", *")));
        names.removeIf(String::isBlank);
        int node = jointNode();
        String name = node < 0 ? "" : looked().orElseThrow().nodes().get(node).name();
        if (!name.isEmpty() && !names.remove(name)) {
            names.add(name);
        }
        locked.set(String.join(", ", names));
    }

    public ObjectProperty<Chosen> chosen() {
        return chosen;
    }

    /** Chooses vertices of a mesh of the asset that is looked at. */
    public void choose(int mesh, BitSet vertices) {
        chosen.set(vertices.isEmpty() ? Chosen.NONE : new Chosen(mesh, vertices));
    }

    /** Chooses vertices, or adds them to what is chosen of the same mesh, or takes them out of it. */
    public void choose(int mesh, BitSet vertices, boolean more, boolean less) {
        Chosen before = chosen.get();
        boolean same = before.mesh() == mesh;
        BitSet next = (BitSet) vertices.clone();
        if (less) {
            if (!same) {
                return;
            }
            next = (BitSet) before.vertices().clone();
            next.andNot(vertices);
        } else if (more && same) {
            next.or(before.vertices());
        } else if (more && vertices.isEmpty()) {
            return;
        }
        choose(mesh, next);
    }

    /** The mesh that is worked on: the chosen one, or the first skinned one. */
    public Optional<Mesh> workedMesh() {
        return looked().flatMap(a -> chosen.get().isEmpty()
                ? a.meshes().stream().filter(Mesh::skinned).findFirst()
                : Optional.of(a.meshes().get(chosen.get().mesh())));
    }
}
