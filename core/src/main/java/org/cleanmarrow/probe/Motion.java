package org.cleanmarrow.probe;

import java.util.List;

/**
 * How far apart two assets move, measured in the world in metres.
 *
 * @param topology      {@code same} where every vertex has its counterpart; otherwise what differs, in words
 * @param largestMetres largest distance of any vertex at any sampled moment
 * @param meanMetres    mean over vertices and moments
 * @param mesh          where the largest was found; empty when nothing moved; a joint where there is no mesh
 * @param vertex        its number in the mesh, or -1
 * @param clip          the clip it was found in; empty: at rest
 * @param seconds       on the clip's time line
 * @param moments       how many poses were compared
 * @param unmatched     meshes and clips that only one side has, one sentence each
 */
public record Motion(
        String topology,
        double largestMetres,
        double meanMetres,
        String mesh,
        int vertex,
        String clip,
        double seconds,
        int moments,
        List<String> unmatched) {

    public boolean sameTopology() {
        return topology.equals("same");
    }
}
