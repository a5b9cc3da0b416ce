package org.cleanmarrow.work;

import java.util.List;
import org.joml.Vector3dc;

/**
 * What a hand did to bodies while they were let go, frame by frame.
 *
 * @param list rising by frame; several may pull in one
 */
public record Pulls(List<Pull> list) {
    public static final Pulls NONE = new Pulls(List.of());

    /**
     * One place of one body drawn towards another for a frame.
     *
     * @param frame that it ends with, from 1
     * @param at    in the node's axes without their scale, metres
     * @param to    in the asset's world, metres
     */
    public record Pull(int frame, String node, Vector3dc at, Vector3dc to) {}

    public Pulls {
        list = List.copyOf(list);
    }
}
