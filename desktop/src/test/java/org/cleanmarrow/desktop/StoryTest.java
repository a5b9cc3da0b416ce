package org.cleanmarrow.desktop;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.BitSet;
import java.util.List;
import javafx.scene.input.KeyCode;
import org.cleanmarrow.demo.pilot.FerryPilot;
import org.cleanmarrow.desktop.desk.ShadingMode;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.steps.skeleton.AddRoot;
import org.cleanmarrow.surface.MeshTopology;
import org.testng.annotations.Test;

/** The whole work on the ferry pilot, by mouse and keyboard. */
public class StoryTest extends DeskWindow {

    private void chooseJoint(String name) throws Exception {
        type("#joint-filter", name);
        quiet();
        clickJoint(name);
        assertThat(on(() -> desk.selection().joint().get())).isEqualTo(name);
    }

    private long weighted(String joint, BitSet vertices) throws Exception {
        Asset asset = on(() -> desk.now());
        int skin = asset.skinOfMesh(0);
        int number = asset.skins().get(skin).indexOfNode(asset.findNode(joint));
        Influences rows = asset.meshes().getFirst().primitives().getFirst().influences();
        return vertices.stream().filter(v -> rows.weight(v, number) > 0).count();
    }

    @Test
    public void fromAMessyRigToASoundDelivery() throws Exception {
        openDemo();
        for (Station station : List.of(Station.SCALE_AND_AXES, Station.SKELETON, Station.SKIN)) {
            assertThat(on(() -> desk.findingsAt(station)))
                    .as(station.name())
                    .anyMatch(f -> f.severity() == Severity.BLOCKER);
        }

        // The arm is chosen, its influence shows, and the strap is chosen as a piece.
        station(Station.SKIN);
        chooseJoint("left_upper_arm");
        assertThat(on(() -> desk.seeing().paint().get())).isEqualTo(ShadingMode.INFLUENCE);
        Finding leak = finding("leak");
        BitSet strap = MeshTopology.of(on(() -> desk.now().meshes().getFirst()))
                .islandsOf(leak.place().vertices());
        click("#tool-island");
        hand.clickOn(pointOn(0, leak.place().vertices()));
        quiet();
        assertThat(on(() -> desk.selection().chosen().get().vertices())).isEqualTo(strap);
        assertThat(strap.cardinality()).isEqualTo(412);
        assertThat(text("#preview")).contains("412").containsAnyOf("hail", "arms-up");

        // The arm is taken off it, then the twist joint beside.
        assertThat(weighted("left_upper_arm", strap)).isPositive();
        click("#take-off");
        quiet();
        assertThat(weighted("left_upper_arm", strap)).isZero();
        assertThat(on(() -> desk.selection().chosen().get().vertices()))
                .as("the choice stays")
                .isEqualTo(strap);
        chooseJoint("left_arm_twist");
        click("#take-off");
        quiet();
        assertThat(weighted("left_arm_twist", strap)).isZero();

        // Undo and redo are exact.
        Asset after = on(() -> desk.now());
        on(() -> {
            window.viewport().requestFocus();
            return null;
        });
        hand.push(KeyCode.CONTROL, KeyCode.Z);
        quiet();
        assertThat(weighted("left_arm_twist", strap)).isPositive();
        hand.push(KeyCode.CONTROL, KeyCode.SHIFT, KeyCode.Z);
        quiet();
        assertThat(on(() -> desk.now())).isSameAs(after);

        // Root, conversion, ends.
        station(Station.SKELETON);
        press("#add-root");
        quiet();
        assertThat(AddRoot.hasCleanRoot(on(() -> desk.now()))).isTrue();
        station(Station.SCALE_AND_AXES);
        press("#convert");
        quiet();
        station(Station.SKELETON);
        press("#trim-ends");
        quiet();
        // Feet and chest that were forgotten, and a jaw on the scarf.
        fix("roles");
        fix("roles");
        assertThat(on(() -> desk.findingsAt(Station.SKELETON))).isEmpty();
        assertThat(on(() -> desk.findingsAt(Station.SCALE_AND_AXES))).isEmpty();

        // The rest by Fix, until the spine is clean.
        for (String check : List.of("strays", "weight-sums", "influences", "lost-channels")) {
            fix(check);
        }
        assertThat(on(() -> desk.findings())).isEmpty();
        assertThat(on(() -> desk.isExamined())).isTrue();

        deliverTwice();
        openTheNewerVersion();
    }

    private void deliverTwice() throws Exception {
        station(Station.DELIVERY);
        Path out = home.resolve("out");
        type("#delivery-folder", out.toString());
        press("#deliver");
        quiet();
        Path first = out.resolve("ferry-pilot_v001.glb");
        assertThat(first).exists();
        byte[] bytes = Files.readAllBytes(first);
        assertThat(text("#message")).contains("ferry-pilot_v001.glb").contains("0.000 mm");
        press("#deliver");
        quiet();
        assertThat(out.resolve("ferry-pilot_v002.glb")).exists();
        assertThat(Files.readAllBytes(first)).isEqualTo(bytes);
        assertThat(on(() -> desk.lastDelivery().orElseThrow().landing().largestMetres()))
                .isZero();
    }

    private void openTheNewerVersion() throws Exception {
        int steps = on(() -> desk.history().done().size());
        Path newer = home.resolve("ferry-pilot.glb");
        Files.write(newer, GltfWriter.glb(FerryPilot.newerVersion()));
        on(() -> {
            desk.files().openNewer(newer);
            return null;
        });
        quiet();
        assertThat(on(() -> desk.history().done()))
                .hasSize(steps)
                .allSatisfy(d -> assertThat(d.outcome()).as(d.reason()).isPresent());
        assertThat(on(() -> desk.findings())).isEmpty();
        assertThat(on(() -> desk.now().meshes().getFirst().vertexCount()))
                .isGreaterThan(FerryPilot.asset().meshes().getFirst().vertexCount());
    }
}
