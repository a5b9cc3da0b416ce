package org.cleanmarrow.cloth;

import java.util.List;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attached;
import org.cleanmarrow.model.Renumbering;
import org.joml.Matrix4d;

/**
 * Says that the mesh at a node is cloth, and what it is like. How far every vertex may stray is kept by vertex, in the
 * attribute {@link Strays#ATTRIBUTE}.
 *
 * @param node never below zero; of two sections at one node the first counts
 */
public record ClothSection(int node, Fabric fabric) implements Attached {

    /** Those of an asset, in its order; one whose mesh was taken away says nothing any more. */
    public static List<ClothSection> all(Asset asset) {
        return asset.attached(ClothSection.class).stream()
                .filter(s -> asset.nodes().get(s.node).mesh() >= 0)
                .toList();
    }

    /** A node has one at most, which needs no name. */
    @Override
    public String name() {
        return "";
    }

    @Override
    public ClothSection renumbered(Renumbering numbers) {
        return withNode(numbers.of(Renumbering.Kind.NODE, node));
    }

    @Override
    public ClothSection withNode(int changed) {
        return new ClothSection(changed, fabric);
    }

    /** Its lengths are the world's. */
    @Override
    public ClothSection moved(Matrix4d by) {
        return this;
    }

    @Override
    public float[] points() {
        return new float[0];
    }
}
