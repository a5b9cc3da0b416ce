package org.cleanmarrow.model;

/**
 * One animated property of one node.
 *
 * @param node   index, or -1 where the file names none: such a channel moves nothing here
 * @param track  a {@link Sampler}, but for {@link Path#VERTICES}
 * @param target what the channel moved, in words, where {@code node} is -1 and the file says so; otherwise empty
 */
public record Channel(int node, Path path, Track track, String target, Passthrough carried) implements Refers<Channel> {
    public enum Path {
        TRANSLATION,
        ROTATION,
        SCALE,
        WEIGHTS,
        /** Where the vertices of the mesh at the node are; played by a {@link VertexTrack}. */
        VERTICES,
        /** Animated by an extension that is carried, not understood. */
        POINTER
    }

    @Override
    public Channel renumbered(Renumbering numbers) {
        Channel placed = withNode(numbers.of(Renumbering.Kind.NODE, node));
        if (path != Path.POINTER) {
            return placed;
        }
        Passthrough now = AnimationPointer.of(carried).renumbered(numbers);
        return new Channel(placed.node, path, track, target, now == null ? Passthrough.NONE : now);
    }

    /** Whether what it moves stays under new numbers. */
    boolean stays(Renumbering numbers) {
        return path == Path.POINTER
                ? AnimationPointer.of(carried).renumbered(numbers) != null
                : node < 0 || numbers.of(Renumbering.Kind.NODE, node) >= 0;
    }

    /** Where it points, if it is a {@link Path#POINTER}: a property by its place in the file; otherwise empty. */
    public String pointer() {
        return path == Path.POINTER ? AnimationPointer.of(carried).pointer() : "";
    }

    public Channel withNode(int newNode) {
        return new Channel(newNode, path, track, target, carried);
    }

    public Channel withTrack(Track changed) {
        return new Channel(node, path, changed, target, carried);
    }

    /** Its keys, where it moves no vertices by themselves. */
    public Sampler sampler() {
        return (Sampler) track;
    }

    /** Whether it moves the mesh at its node rather than the node. */
    public boolean shapes() {
        return path == Path.WEIGHTS || path == Path.VERTICES;
    }

    public boolean movesVertices() {
        return track instanceof VertexTrack;
    }
}
