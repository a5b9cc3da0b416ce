package org.cleanmarrow.model;

/**
 * One animated property of one node.
 *
 * @param node   index, or -1 where the file names none: such a channel moves nothing here
 * @param target what the channel moved, in words, where {@code node} is -1 and the file says so; otherwise empty
 */
public record Channel(int node, Path path, Sampler sampler, String target, Passthrough carried)
        implements Refers<Channel> {
    public enum Path {
        TRANSLATION,
        ROTATION,
        SCALE,
        WEIGHTS,
        /** Animated by an extension that is carried, not understood. */
        POINTER
    }

    @Override
    public Channel renumbered(Renumbering numbers) {
        return withNode(numbers.of(Renumbering.Kind.NODE, node));
    }

    public Channel withNode(int newNode) {
        return new Channel(newNode, path, sampler, target, carried);
    }

    public Channel withSampler(Sampler changed) {
        return new Channel(node, path, changed, target, carried);
    }
}
