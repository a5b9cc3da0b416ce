package org.cleanmarrow.batch;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Files;
import java.nio.file.Path;
import org.cleanmarrow.kit.OpenSamples;
import org.testng.annotations.BeforeClass;
import org.testng.annotations.Test;
import tools.jackson.databind.JsonNode;

/** The command line on formats other than glTF: files that we did not write, from the formats' samples. */
public class OtherFormatsTest {
    private Path folder;

    @BeforeClass
    public void makeFolder() throws Exception {
        folder = Files.createTempDirectory("marrow");
        Files.writeString(folder.resolve("empty.json"), "{\"ledger\": 1, \"steps\": []}");
        Files.writeString(
                folder.resolve("metres.json"),
                "{\"ledger\": 1, \"steps\": [{\"step\": \"declare-conventions\", \"are\": \"y-up-in-rh\"},"
                        + " {\"step\": \"convert\", \"to\": \"z-up-cm-lh\"}]}");
    }

    @Test
    public void aTakeIsInspectedInInclusiveFrames() {
        JsonNode json = Said.run("inspect", OpenSamples.path("01_01.bvh").toString(), "--json")
                .json();
        JsonNode clip = json.path("clips").get(0);
        // The file says: Frames 2752, Frame Time .0083333.
        assertThat(clip.path("firstFrame").intValue()).isZero();
        assertThat(clip.path("lastFrame").intValue()).isEqualTo(2751);
        assertThat(clip.path("framesPerSecond").doubleValue()).isEqualTo(120);
        assertThat(clip.path("seconds").doubleValue()).isCloseTo(2751 * 0.0083333, within(1e-3));
        assertThat(json.path("skins").get(0).path("joints").intValue()).isEqualTo(38);
        assertThat(json.path("notes").get(0).stringValue()).contains("no unit");
    }

    @Test
    public void anObjIsInspectedPartByPart() {
        JsonNode json = Said.run("inspect", OpenSamples.path("spider.obj").toString(), "--json")
                .json();
        assertThat(json.path("meshes").size()).isEqualTo(19);
        assertThat(json.path("meshes").get(0).path("name").stringValue()).isEqualTo("HLeib01");
        assertThat(json.path("meshes").get(0).path("skin").isNull()).isTrue();
    }

    @Test
    public void aTakeIsConvertedDeliveredAndEqualsItsSourceInTheWorld() {
        String take = OpenSamples.path("01_01.bvh").toString();
        Said ran = Said.run(
                "run",
                folder.resolve("metres.json").toString(),
                take,
                "--out",
                folder.resolve("takes").toString(),
                "--json");
        assertThat(ran.code()).as(ran.err()).isZero();
        assertThat(ran.json().path("landing").path("largestMetres").doubleValue())
                .isZero();
        JsonNode step = ran.json().path("steps").get(1);
        assertThat(step.path("largestMovementMetres").doubleValue())
                .as("turning the axes moves no joint")
                .isLessThan(1e-5);
        // As read the numbers are centimetres, as declared inches: 2.54 times as far from the origin.
        String delivered = ran.json().path("files").get(0).stringValue();
        Said compared = Said.run("compare", take, delivered, "--json");
        assertThat(compared.code()).isEqualTo(1);
        assertThat(compared.json().path("largestMetres").doubleValue()).isGreaterThan(0.2);
        assertThat(Said.run("compare", delivered, delivered, "--json").code()).isZero();
    }

    @Test
    public void severalFilesAreDeliveredEachByItself() {
        Said ran = Said.run(
                "run",
                folder.resolve("empty.json").toString(),
                OpenSamples.path("cube.ply").toString(),
                OpenSamples.path("cube_with_vertexcolors.obj").toString(),
                "--out",
                folder.resolve("cubes").toString(),
                "--json");
        assertThat(ran.code()).as(ran.err()).isZero();
        assertThat(folder.resolve("cubes/cube_v001.glb")).exists();
        assertThat(folder.resolve("cubes/cube_with_vertexcolors_v001.glb")).exists();
    }

    @Test
    public void whatCannotBeReadIsSaidInOneLineAndExitsWithTwo() throws Exception {
        Said broken = Said.run("inspect", OpenSamples.path("issue623.ply").toString(), "--json");
        assertThat(broken.code()).isEqualTo(2);
        assertThat(broken.out()).isEmpty();
        assertThat(broken.err().strip().lines()).hasSize(1).first().asString().contains("line 16");
        Path odd = Files.writeString(folder.resolve("thing.xyz"), "1 2 3");
        Said unknown = Said.run("inspect", odd.toString(), "--json");
        assertThat(unknown.code()).isEqualTo(2);
        assertThat(unknown.err())
                .contains("bvh")
                .contains("obj")
                .contains("ply")
                .contains("glb");
    }
}
