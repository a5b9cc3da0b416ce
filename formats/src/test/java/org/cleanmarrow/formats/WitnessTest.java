package org.cleanmarrow.formats;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import org.cleanmarrow.kit.OpenSamples;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.RestBox;
import org.cleanmarrow.pose.Rig;
import org.joml.Matrix4d;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * Skinned, morphed and animated positions against an independent evaluator, three.js 0.187 (GLTFLoader,
 * SkinnedMesh.getVertexPosition, AnimationMixer): {@code tools/reference/witness.mjs} made the numbers.
 */
public class WitnessTest {
    @DataProvider
    public Object[][] files() {
        return new Object[][] {
            {"simple_skin.gltf"}, {"AnimatedMorphCube.gltf"}, {"generic-hand-left.glb"}, {"generic-hand-right.glb"}
        };
    }

    @Test(dataProvider = "files")
    public void positionsAgree(String file) throws Exception {
        Asset asset = Samples.read(file);
        String fixture = file.substring(0, file.lastIndexOf('.')) + ".json";
        JsonNode witness = JsonMapper.shared()
                .readTree(Files.readString(
                        OpenSamples.FOLDER.resolveSibling("witness").resolve(fixture)));
        double size = RestBox.of(asset).diagonal();
        Rig rig = new Rig(asset);
        Deformer deformer = new Deformer(asset);
        int compared = 0;
        for (JsonNode moment : witness.path("moments")) {
            int clip = moment.path("clip").intValue();
            Pose pose = clip < 0
                    ? rig.rest()
                    : rig.at(asset.clips().get(clip), moment.path("seconds").doubleValue());
            Matrix4d[] world = pose.world();
            for (JsonNode mesh : moment.path("meshes")) {
                MeshPlace place = deformer.places().stream()
                        .filter(p -> p.node() == mesh.path("node").intValue())
                        .findFirst()
                        .orElseThrow();
                float[] p = new float[deformer.vertexCount(place) * 3];
                deformer.deform(place, pose, world, new Matrix4d(), p, null, false);
                for (int i = 0; i < mesh.path("vertices").size(); i++) {
                    int v = mesh.path("vertices").get(i).intValue();
                    for (int d = 0; d < 3; d++) {
                        double expected = mesh.path("positions").get(i * 3 + d).doubleValue();
                        assertThat(Math.abs(p[v * 3 + d] - expected))
                                .as("%s clip %d at %s vertex %d", file, clip, moment.path("seconds"), v)
                                .isLessThan(1e-5 * size);
                        compared++;
                    }
                }
            }
        }
        assertThat(compared).isGreaterThan(20);
    }
}
