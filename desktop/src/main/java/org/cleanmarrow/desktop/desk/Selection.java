package org.cleanmarrow.desktop.desk;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;
import javafx.beans.property.ObjectProperty;
import javafx.beans.property.SimpleObjectProperty;
import javafx.beans.property.SimpleStringProperty;
import javafx.beans.property.StringProperty;
import javafx.beans.value.ObservableValue;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;

/** What is in hand of the asset that is looked at: a joint, vertices, what the joint is compared with, what is locked. */
public final class Selection {
    private final Supplier<Optional<Asset>> looked;
    private final StringProperty joint = new SimpleStringProperty("");
    private final StringProperty compared = new SimpleStringProperty("");
    private final StringProperty locked = new SimpleStringProperty("");
    private final ObjectProperty<ShapeName> shape = new SimpleObjectProperty<>();
    private final ObjectProperty<Chosen> chosen = new SimpleObjectProperty<>(Chosen.NONE);
    /** The asset that it was made on; null where there was none. */
    private Asset madeOn;

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

    /** @param looked the asset that is looked at */
    Selection(Supplier<Optional<Asset>> looked) {
        this.looked = looked;
    }

    List<ObservableValue<?>> all() {
        return List.of(joint, compared, locked, chosen, shape);
    }

    /**
     * A collision shape.
     *
     * @param node as the asset names it
     * @param name its own; may be empty
     */
    public record ShapeName(String node, String name) {}

    /** The collision shape in hand; null for none. */
    public ObjectProperty<ShapeName> shape() {
        return shape;
    }

    /** The collision shape in hand, as it is in the asset looked at. */
    public Optional<Collider> collider() {
        ShapeName named = shape.get();
        return named == null
                ? Optional.empty()
                : looked.get().flatMap(a -> Bodies.at(a, a.findNode(named.node), named.name));
    }

    public StringProperty joint() {
        return joint;
    }

    /** Node number of the joint in hand in the asset looked at, or -1. */
    public int jointNode() {
        return joint.get().isEmpty()
                ? -1
                : looked.get().map(a -> a.findNode(joint.get())).orElse(-1);
    }

    /** The joint that the one in hand is compared with; empty for none. */
    public StringProperty compared() {
        return compared;
    }

    /** Names of the joints whose weights are not touched, with commas between. */
    public StringProperty locked() {
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
        String name =
                node < 0 ? "" : looked.get().orElseThrow().nodes().get(node).name();
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
        madeOn = looked.get().orElse(null);
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
        return looked.get()
                .flatMap(a -> chosen.get().isEmpty()
                        ? a.meshes().stream().filter(Mesh::skinned).findFirst()
                        : Optional.of(a.meshes().get(chosen.get().mesh())));
    }

    /** Nothing is in hand. */
    void clear() {
        madeOn = null;
        chosen.set(Chosen.NONE);
        locked.set("");
        compared.set("");
        joint.set("");
        shape.set(null);
    }

    /** Another asset is looked at: keeps what still means something on it. */
    void keep() {
        Asset now = looked.get().orElseThrow();
        Chosen c = chosen.get();
        if (c.mesh() >= 0 && madeOn != null && madeOn != now) {
            int mesh = c.mesh() < madeOn.meshes().size() ? now.findMesh(madeOn.meshRef(c.mesh())) : -1;
            boolean same = mesh >= 0
                    && now.meshes().get(mesh).vertexCount()
                            == madeOn.meshes().get(c.mesh()).vertexCount();
            chosen.set(same ? new Chosen(mesh, c.vertices()) : Chosen.NONE);
        }
        if (jointNode() < 0) {
            joint.set(renamed(now));
        }
        if (collider().isEmpty()) {
            shape.set(null);
        }
        madeOn = now;
    }

    /** What the joint in hand is called now, where nothing but names changed; empty where it is gone. */
    private String renamed(Asset now) {
        int node = madeOn == null || joint.get().isEmpty() ? -1 : madeOn.findNode(joint.get());
        boolean same = node >= 0 && Arrays.equals(madeOn.parents(), now.parents());
        return same ? now.nodeRef(node) : "";
    }
}
