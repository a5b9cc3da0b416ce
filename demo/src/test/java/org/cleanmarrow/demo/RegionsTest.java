package org.cleanmarrow.demo;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.cleanmarrow.demo.ferry.LiftBridge;
import org.cleanmarrow.demo.ferry.VestedPilot;
import org.cleanmarrow.formats.gltf.GltfReader;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Extras;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.roles.BodyRegion;
import org.cleanmarrow.steps.skin.MarkRegions;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.weights.RegionMap;
import org.cleanmarrow.weights.RegionMarks;
import org.cleanmarrow.weights.RestSurface;
import org.cleanmarrow.weights.WeldedWeights;
import org.cleanmarrow.weights.Worn;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;
import org.joml.Vector3d;
import org.testng.annotations.Test;

/** Regions of the pilot against the pieces that it is made of: gloves are hands, boots feet and shins, the cap is the head's. */
public class RegionsTest {
    private final Asset pilot = VestedPilot.asset();

    /** What a piece of the body may belong to, by where its middle lies: how the demo builds it, in metres. */
    private static String allowed(Vector3d low, Vector3d high) {
        if (low.x > 0.45 || high.x < -0.45) {
            return low.x > 0 ? "left-(hand|lower-arm)" : "right-(hand|lower-arm)";
        }
        if (high.y < 0.4) {
            return low.x > 0 ? "left-(foot|lower-leg)" : "right-(foot|lower-leg)";
        }
        if (low.y > 1.53) {
            return "head";
        }
        if (low.y > 1.38) {
            // The neck goes down into the collar.
            return "head|neck|torso";
        }
        return low.y < 0.2
                ? "torso|(left|right)-(upper|lower)-leg"
                : "torso|neck|(left|right)-(upper-arm|lower-arm|upper-leg)";
    }

    /** By triangle the region that a file says. */
    private static List<String> said(Asset asset, String part) {
        Mesh mesh = asset.meshes().get(asset.findMesh(part));
        List<String> names = Extras.of(mesh.carried(), "regions")
                .valueStream()
                .map(n -> n.asString())
                .toList();
        Primitive p = mesh.primitives().getFirst();
        Attribute numbers = p.attribute(RegionMarks.ATTRIBUTE).orElseThrow();
        int[] t = p.triangleCorners();
        return java.util.stream.IntStream.range(0, t.length / 3)
                .mapToObj(i -> {
                    float a = numbers.values()[t[i * 3]];
                    float b = numbers.values()[t[i * 3 + 1]];
                    float c = numbers.values()[t[i * 3 + 2]];
                    return names.get((int) (b == c ? b : a));
                })
                .toList();
    }

    @Test
    public void everyTriangleOfThePilotBelongsWhereItsPieceDoes() throws Exception {
        Asset marked = new MarkRegions("pilot").apply(pilot, Work.QUIET).asset();
        assertThat(MotionProbe.compare(pilot, marked, Work.QUIET).largestMetres())
                .isZero();
        // As a file keeps it.
        Asset read = GltfReader.read(GltfWriter.glb(marked), "pilot.glb", null, Work.QUIET);
        List<String> regions = said(read, "pilot");
        MeshTopology topology = MeshTopology.of(read.meshes().get(read.findMesh("pilot")));
        float[] p = RestSurface.of(read, read.findMesh("pilot"))
                .byVertex(RestSurface.of(read, read.findMesh("pilot")).positions());
        Vector3d[] low = new Vector3d[topology.islandCount()];
        Vector3d[] high = new Vector3d[topology.islandCount()];
        for (int v = 0; v < topology.vertexCount(); v++) {
            int island = topology.islandOf(v);
            Vector3d at = new Vector3d(p[v * 3], p[v * 3 + 1], p[v * 3 + 2]);
            low[island] = low[island] == null ? new Vector3d(at) : low[island].min(at);
            high[island] = high[island] == null ? new Vector3d(at) : high[island].max(at);
        }
        int[] corners = topology.corners();
        Set<String> all = new TreeSet<>(regions);
        for (int t = 0; t < regions.size(); t++) {
            int island = topology.islandOf(corners[t * 3]);
            assertThat(regions.get(t))
                    .as(low[island] + " to " + high[island])
                    .matches(allowed(low[island], high[island]));
        }
        assertThat(all)
                .isEqualTo(java.util.Arrays.stream(BodyRegion.values())
                        .map(BodyRegion::code)
                        .collect(Collectors.toCollection(TreeSet::new)));
    }

    @Test
    public void bordersAreShorterThanThoseOfTheHeaviestJointAlone() {
        int m = pilot.findMesh("pilot");
        WeldedSurface surface = RestSurface.of(pilot, m);
        var rows = WeldedWeights.of(pilot.meshes().get(m), surface);
        BodyRegion[] ofJoints = Worn.regionsOfJoints(pilot, pilot.skins().get(pilot.skinOfMesh(m)));
        double plain = RegionMap.of(surface, rows, ofJoints, 0).border();
        double even = RegionMap.of(surface, rows, ofJoints, 20).border();
        System.out.printf("regions: borders %.2f m by the heaviest joint, %.2f m evened out%n", plain, even);
        assertThat(even).isLessThan(plain);
    }

    @Test
    public void aLoosePartBelongsToWhatItLiesNearestTo() throws Refused {
        assertThatThrownBy(() -> new MarkRegions("float_vest").apply(pilot, Work.QUIET))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("name the skinned body");
        Asset painted = new MarkRegions("float_vest", "pilot", 20, MarkRegions.As.MATERIALS)
                .apply(pilot, Work.QUIET)
                .asset();
        Mesh vest = painted.meshes().get(painted.findMesh("float_vest"));
        assertThat(vest.primitives().stream()
                        .map(p -> painted.materials().get(p.material()).name()))
                .contains("cork_torso", "cork_left-upper-arm", "cork_right-upper-arm")
                .allMatch(n -> n.matches("cork_(torso|neck|(left|right)-upper-(arm|leg))"));
        assertThat(vest.primitives().stream()
                        .mapToInt(p -> p.triangleCorners().length)
                        .sum())
                .isEqualTo(pilot.meshes()
                        .get(pilot.findMesh("float_vest"))
                        .primitives()
                        .getFirst()
                        .triangleCorners()
                        .length);
        assertThatThrownBy(() -> new MarkRegions("span").apply(LiftBridge.asset(), Work.QUIET))
                .isInstanceOf(Refused.class);
    }
}
