package org.cleanmarrow.desktop.viewport;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.BitSet;
import java.util.List;
import java.util.TreeMap;
import org.cleanmarrow.demo.ferry.VestedPilot;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.surface.MeshTopology;
import org.joml.Vector3d;
import org.testng.annotations.Test;

/** What the brush reaches. */
public class BrushTest {
    @Test
    public void strengthFallsFromTheMiddleToTheRim() {
        for (Brush.Falloff falloff : Brush.Falloff.values()) {
            assertThat(falloff.at(0)).isEqualTo(1);
            double last = 1;
            for (double share = 0.1; share <= 1.0001; share += 0.1) {
                double at = falloff.at(Math.min(1, share));
                assertThat(at).isLessThanOrEqualTo(last).isBetween(0.0, 1.0);
                last = at;
            }
        }
        assertThat(Brush.Falloff.SOFT.at(1)).isZero();
        assertThat(Brush.Falloff.LINEAR.at(0.25)).isCloseTo(0.75, within(1e-12));
        assertThat(Brush.Falloff.HARD.at(1)).isEqualTo(1);
        assertThat(Brush.Falloff.SOFT.at(0.5)).isCloseTo(0.5, within(1e-12));
    }

    /** A point on the breast of the jumper; the scarf, strap and back are near in space, but not along the surface. */
    @Test
    public void alongTheSurfaceNothingElseIsTouchedAndThroughItEverythingNear() {
        Asset pilot = VestedPilot.asset();
        int mesh = pilot.findMesh("pilot");
        Picker picker = new Picker();
        picker.pose(pilot, null, 0);
        MeshTopology topology = MeshTopology.of(pilot.meshes().get(mesh));
        BitSet jumper = topology.islandsOf(one(0));
        int vertex = -1;
        double best = Double.POSITIVE_INFINITY;
        for (int v = jumper.nextSetBit(0); v >= 0; v = jumper.nextSetBit(v + 1)) {
            double d = picker.vertexPlace(mesh, v).distance(0.02, 1.25, 0.11);
            if (d < best) {
                best = d;
                vertex = v;
            }
        }
        int node = 0;
        while (pilot.nodes().get(node).mesh() != mesh) {
            node++;
        }
        Vector3d at = picker.vertexPlace(mesh, vertex);
        MeshPlace place = new MeshPlace(node, mesh, pilot.nodes().get(node).skin());
        Picker.Hit hit = new Picker.Hit(place, vertex, 0, at, 1);
        double radius = 0.14;
        TreeMap<Integer, Double> along = new TreeMap<>();
        picker.touch(hit, radius, true, along::put);
        TreeMap<Integer, Double> through = new TreeMap<>();
        picker.touch(hit, radius, false, through::put);
        assertThat(along).isNotEmpty();
        assertThat(through.keySet()).containsAll(along.keySet());
        assertThat(through.size()).isGreaterThan(along.size());
        assertThat(along.keySet()).allMatch(jumper::get);
        assertThat(through.keySet()).anyMatch(v -> !jumper.get(v));
        along.forEach((v, d) -> {
            assertThat(d).isLessThanOrEqualTo(radius);
            assertThat(d).isCloseTo(picker.vertexPlace(mesh, v).distance(at), within(1e-4));
        });
        // What lies on one place is touched together.
        BitSet touched = new BitSet();
        along.keySet().forEach(touched::set);
        assertThat(topology.sameWelded(touched)).isEqualTo(touched);
        assertThat(List.copyOf(along.values())).contains(along.get(vertex));
    }

    private static BitSet one(int vertex) {
        BitSet out = new BitSet();
        out.set(vertex);
        return out;
    }
}
