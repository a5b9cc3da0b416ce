package org.cleanmarrow.formats;

import java.util.Arrays;
import java.util.function.Predicate;
import java.util.function.ToLongFunction;
import java.util.stream.Stream;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.RigidBody;
import org.cleanmarrow.convention.Handedness;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.text.Message;

/**
 * Something that a format can hold or cannot. Writers, the delivery card and docs/formats.md all go by what a {@link Format}
 * says of these; {@code capability.<name>} in the bundle counts them.
 */
public enum Capability {
    PARTS(a -> count(a.nodes(), n -> n.mesh() >= 0) > 1 ? count(a.nodes(), n -> n.mesh() >= 0) : 0),
    MESHES(a -> a.meshes().size()),
    HIERARCHY(a -> count(a.nodes(), n -> n.children().length > 0)),
    JOINTS(a -> a.skins().stream()
            .flatMapToInt(s -> Arrays.stream(s.joints()))
            .distinct()
            .count()),
    SKINS(a -> a.skins().size()),
    MORPH_TARGETS(a -> a.meshes().stream().mapToLong(Mesh::targetCount).sum()),
    CLIPS(a -> a.clips().size()),
    CURVES(a -> count(
            a.clips(),
            c -> c.channels().stream()
                    .anyMatch(x ->
                            x.track() instanceof Sampler s && s.interpolation() == Sampler.Interpolation.CUBICSPLINE))),
    VERTEX_CACHES(a -> count(a.clips(), c -> c.channels().stream().anyMatch(Channel::movesVertices))),
    MATERIALS(a -> a.materials().size()),
    SHADING(a -> count(a.materials(), m -> !m.carried().isEmpty())),
    PICTURES(a -> a.images().size()),
    POLYGONS(a -> count(primitives(a).toList(), p -> p.layout().faces() != null)),
    POINTS(a -> count(primitives(a).toList(), p -> p.mode() == Primitive.Mode.POINTS && p.vertexCount() > 0)),
    LINES(a -> count(
            primitives(a).toList(),
            p -> p.mode() != Primitive.Mode.POINTS && p.triangleCorners().length == 0 && p.vertexCount() > 0)),
    TANGENTS(a -> count(primitives(a).toList(), p -> p.tangents() != null)),
    CAMERAS(a -> count(a.nodes(), n -> n.camera() >= 0)),
    EXTRAS(a -> count(a.nodes(), n -> !n.carried().isEmpty())
            + count(a.meshes(), m -> !m.carried().isEmpty())
            + count(a.clips(), c -> !c.carried().isEmpty())),
    LEFT_HANDED_AXES(a -> a.conventions().handedness() == Handedness.LEFT ? 1 : 0),
    LOOPS_AND_RATES(a -> count(a.clips(), c -> c.loop() || c.framesPerSecond() > 0)),
    TAGS(a -> count(a.clips(), c -> !c.tags().isEmpty())),
    COLLIDERS(a -> count(a.attached(), Collider.class::isInstance)),
    BODIES(a -> count(a.attached(), RigidBody.class::isInstance));

    private final ToLongFunction<Asset> count;

    Capability(ToLongFunction<Asset> count) {
        this.count = count;
    }

    private static Stream<Primitive> primitives(Asset asset) {
        return asset.meshes().stream().flatMap(m -> m.primitives().stream());
    }

    private static <T> long count(java.util.List<T> things, Predicate<T> which) {
        return things.stream().filter(which).count();
    }

    /** How many things of an asset need it; one pass over what it lists, never over vertices. */
    public long in(Asset asset) {
        return count.applyAsLong(asset);
    }

    /** What it is, such as "3 clips". */
    public Message counted(long many) {
        return Message.of("capability." + name().toLowerCase(java.util.Locale.ROOT), many);
    }
}
