package org.cleanmarrow.formats;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.cleanmarrow.formats.delivery.Delivery;
import org.cleanmarrow.formats.delivery.Recipe;
import org.cleanmarrow.formats.file.SafeFiles;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.testng.annotations.Test;

public class DeliveryTest {
    @Test
    public void everyDeliveryIsANewVersionAndTheOldOnesStay() throws Exception {
        Path folder = Files.createTempDirectory("marrow").resolve("made/on/demand");
        Asset asset = RandomAssets.of(3).withName("pilot");
        Delivery.Delivered first = Delivery.deliver(asset, folder, "glb", Work.QUIET);
        byte[] before = Files.readAllBytes(first.files().getFirst());
        Delivery.Delivered second = Delivery.deliver(RandomAssets.of(4).withName("pilot"), folder, "glb", Work.QUIET);
        assertThat(first.files().getFirst().getFileName()).hasToString("pilot_v001.glb");
        assertThat(second.files().getFirst().getFileName()).hasToString("pilot_v002.glb");
        assertThat(Files.readAllBytes(first.files().getFirst())).isEqualTo(before);
        assertThat(first.landing().largestMetres()).isZero();
        assertThat(first.landing().moments()).isGreaterThan(10);
        Files.createFile(folder.resolve("pilot_v041.glb"));
        Files.createFile(folder.resolve("pilot_vxyz.glb"));
        assertThat(Delivery.nextVersion(folder, "pilot")).isEqualTo(42);
        assertThat(Delivery.nextVersion(folder, "pilo")).isEqualTo(1);
        try (Stream<Path> files = Files.list(folder)) {
            assertThat(files.map(f -> f.getFileName().toString())).noneMatch(n -> n.contains("tmp"));
        }
    }

    /** One file of the model and one a clip; put together again they stand and move as they did. */
    @Test
    public void modelAndClipsApartHoldTheSameSkeletonAndPlayAsBefore() throws Exception {
        Path folder = Files.createTempDirectory("marrow");
        Asset asset = RandomAssets.of(5).withName("pilot");
        Delivery.Delivered delivered =
                Delivery.deliver(asset, folder, Recipe.of("glb", true), Optional.empty(), Work.QUIET);
        assertThat(delivered.files())
                .extracting(f -> f.getFileName().toString())
                .containsExactly(
                        "pilot_v001.glb", "pilot_v001_step.glb", "pilot_v001_linear.glb", "pilot_v001_cubic.glb");
        assertThat(delivered.differences()).isEmpty();
        assertThat(delivered.notes()).anyMatch(n -> n.contains("only the mesh has"));
        Asset model = AssetFiles.open(delivered.files().getFirst(), Work.QUIET);
        assertThat(model.clips()).isEmpty();
        assertThat(model.meshes()).hasSize(2);
        for (Path file : delivered.files().subList(1, 4)) {
            Asset alone = AssetFiles.open(file, Work.QUIET);
            assertThat(alone.meshes()).isEmpty();
            Clip clip = alone.clips().getFirst();
            Clip was = asset.clips().get(asset.findClip(clip.name()));
            for (double t = was.start(); t <= was.end(); t += 0.021) {
                Matrix4d[] here = new Rig(alone).at(clip, t).world();
                Matrix4d[] there = new Rig(asset).at(was, t).world();
                for (int j : asset.skins().getFirst().joints()) {
                    int n = alone.findNode(asset.nodes().get(j).name());
                    assertThat(here[n].equals(
                                    there[j],
                                    1e-4
                                            * (1
                                                    + there[j].getTranslation(new Vector3d())
                                                            .length())))
                            .isTrue();
                }
            }
        }
        // The next version counts on, whatever files the last one had.
        assertThat(Delivery.nextVersion(folder, "pilot")).isEqualTo(2);
        assertThat(delivered.notes()).as("there was none before").noneMatch(n -> n.contains("skeleton"));
    }

    @Test
    public void theSkeletonOfWhatIsDeliveredApartIsHeldAgainstTheVersionBefore() throws Exception {
        Path folder = Files.createTempDirectory("marrow");
        Asset asset = RandomAssets.of(5).withName("pilot");
        Delivery.deliver(asset, folder, Recipe.of("glb", true), Optional.empty(), Work.QUIET);
        assertThat(Delivery.deliver(asset, folder, Recipe.of("glb", true), Optional.empty(), Work.QUIET)
                        .notes())
                .anyMatch(n -> n.equals("The skeleton is that of pilot_v001.glb: clips of one play on the other."));
        int joint = asset.skins().getFirst().joints()[1];
        List<Node> nodes = new ArrayList<>(asset.nodes());
        nodes.set(joint, nodes.get(joint).withLocal(Local.at(9, 9, 9)));
        Asset longer = asset.withNodes(nodes);
        assertThat(Delivery.deliver(longer, folder, Recipe.of("glb", true), Optional.empty(), Work.QUIET)
                        .notes())
                .anyMatch(n -> n.startsWith("The skeleton is not that of pilot_v002.glb"));
        Files.write(folder.resolve("pilot_v003.glb"), new byte[] {1, 2, 3});
        assertThat(Delivery.deliver(asset, folder, Recipe.of("glb", true), Optional.empty(), Work.QUIET)
                        .notes())
                .anyMatch(n -> n.startsWith("pilot_v003.glb could not be read"));
        assertThat(Delivery.deliver(asset, folder, Recipe.of("dae", true), Optional.empty(), Work.QUIET)
                        .notes())
                .as("nothing of that format before")
                .noneMatch(n -> n.contains("The skeleton is"));
    }

    @Test
    public void namesCannotLeaveTheFolder() throws Exception {
        Path folder = Files.createTempDirectory("marrow");
        Delivery.Delivered delivered =
                Delivery.deliver(RandomAssets.of(3).withName("../../etc/x y"), folder, "glb", Work.QUIET);
        assertThat(delivered.files().getFirst().getParent()).isEqualTo(folder);
        assertThat(delivered.files().getFirst().getFileName().toString())
                .doesNotContain("/")
                .endsWith("_v001.glb");
    }

    @Test
    public void filesAreWrittenWholeOrNotAtAll() throws Exception {
        Path folder = Files.createTempDirectory("marrow");
        Path file = folder.resolve("a.bin");
        SafeFiles.create(file, new byte[] {1, 2});
        assertThatThrownBy(() -> SafeFiles.create(file, new byte[] {3})).isInstanceOf(FileAlreadyExistsException.class);
        assertThat(Files.readAllBytes(file)).containsExactly(1, 2);
        SafeFiles.replace(file, new byte[] {9});
        assertThat(Files.readAllBytes(file)).containsExactly(9);
        try (Stream<Path> files = Files.list(folder)) {
            assertThat(files).containsExactly(file);
        }
    }
}
