package org.cleanmarrow.desktop;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import javafx.scene.Node;
import javafx.scene.control.ListView;
import javafx.scene.control.TableView;
import javafx.scene.control.TextField;
import javafx.scene.input.KeyCode;
import org.cleanmarrow.demo.Demo;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.pose.RestBox;
import org.cleanmarrow.query.LodFamilies;
import org.cleanmarrow.roles.Role;
import org.cleanmarrow.steps.intake.MarkForExport;
import org.cleanmarrow.steps.intake.Rename;
import org.cleanmarrow.steps.intake.RenameMany;
import org.cleanmarrow.steps.intake.RenamePattern;
import org.cleanmarrow.steps.skeleton.OrientJoints;
import org.cleanmarrow.trial.Swing;
import org.cleanmarrow.work.Work;
import org.joml.Vector3d;
import org.testng.annotations.Test;

/** Intake, and Scale and Axes, by mouse and keyboard, on the other assets of the ferry. */
public class StationsTest extends DeskWindow {
    private void open(String demo) throws Exception {
        click("#demo-" + demo);
        quiet();
        assertThat(on(() -> desk.received().name())).isEqualTo(demo);
    }

    private Asset now() throws Exception {
        return on(() -> desk.now());
    }

    private List<String> rows(String id) throws Exception {
        Node node = find(id);
        if (node instanceof TableView<?> table) {
            return on(() -> IntStream.range(0, table.getItems().size())
                    .mapToObj(row -> table.getColumns().stream()
                            .map(c -> String.valueOf(c.getCellData(row)))
                            .collect(Collectors.joining("  →  ")))
                    .toList());
        }
        ListView<?> list = (ListView<?>) node;
        return on(() -> list.getItems().stream().map(String::valueOf).toList());
    }

    @Test
    public void theBridgeIsSweptNamedFoldedAndDelivered() throws Exception {
        open("lift-bridge");
        station(Station.INTAKE);
        assertThat(rows("#inventory")).hasSize(12);
        // By kind and name, then back.
        type("#ship-names", "winch_house_LOD*");
        assertThat(rows("#inventory")).hasSize(3);
        press("#leave-behind");
        quiet();
        assertThat(now().nodes().stream().filter(n -> !n.ships()).count()).isEqualTo(3);
        press("#ship-again");
        quiet();
        press("#sweep-lods");
        quiet();
        assertThat(now().nodes().stream().filter(n -> !n.ships()).map(n -> n.name()))
                .containsExactly("winch_house_LOD1", "winch_house_LOD2");
        // One item by its own switch.
        type("#ship-names", "*");
        press("#ships-west_rail");
        quiet();
        assertThat(on(() -> desk.history().done().getLast().step()))
                .isEqualTo(new MarkForExport(MarkForExport.Kind.PART, "west_rail", java.util.Optional.empty(), false));
        press("#ships-west_rail");
        quiet();

        type("#rename-find", "*_leaf");
        type("#rename-replace", "leaf_*");
        quiet();
        assertThat(rows("#rename-changes")).containsExactly("west_leaf  →  leaf_west", "east_leaf  →  leaf_east");
        press("#rename-pattern");
        quiet();
        fix("names-differ");
        fix("duplicates");
        assertThat(now().meshes().stream().map(m -> m.name()))
                .contains("leaf_west")
                .doesNotContain("shape_1");
        press("#palette");
        quiet();
        assertThat(now().materials()).hasSize(1);

        station(Station.SCALE_AND_AXES);
        press("#convert");
        quiet();
        assertThat(now().nodes())
                .allMatch(n -> n.local().scale()[0] == 1
                        && n.local().rotationQuaternion().angle() < 1e-5);
        assertThat(on(() -> desk.findings())).isEmpty();
        // Half of a whole clip later the leaves still lift: nothing moved through all of it.
        assertThat(on(() -> desk.history().done().stream()
                        .filter(d -> d.motion().isPresent())
                        .mapToDouble(d -> d.motion().get().largestMetres())
                        .max()
                        .orElse(0)))
                .isLessThan(1e-4);
        station(Station.DELIVERY);
        Path out = Files.createTempDirectory("out");
        type("#delivery-folder", out.toString());
        quiet();
        choose("#delivery-format", "dae");
        quiet();
        press("#deliver");
        quiet();
        assertThat(on(() -> desk.lastDelivery().orElseThrow().landing().largestMetres()))
                .isLessThan(1e-4);
        try (var files = Files.list(out)) {
            assertThat(files.map(f -> f.getFileName().toString()).sorted())
                    .containsExactly(
                            "lift-bridge_v001.dae", "lift-bridge_v001.manifest.json", "lift-bridge_v001_palette.png");
        }
    }

    @Test
    public void theHingeIsSetAndTheOtherLampMade() throws Exception {
        open("lift-bridge");
        station(Station.SCALE_AND_AXES);
        choose("#place-part", "west_leaf");
        Vector3d before = pivot("west_leaf");
        choose("#pivot-side", "left");
        press("#pivot-box");
        quiet();
        assertThat(on(() -> desk.jobs().message().get())).doesNotContain("cannot");
        Vector3d after = pivot("west_leaf");
        assertThat(after.distance(before)).isGreaterThan(1);
        assertThat(on(() ->
                        desk.history().done().getLast().motion().orElseThrow().largestMetres()))
                .isLessThan(1e-3);
        choose("#place-part", "winch_house_LOD0");
        press("#mirror-part");
        quiet();
        assertThat(now().findNode("winch_house_LOD0_mirrored")).isNotNegative();
        // What cannot be done is said beside the button that was pressed, and changes nothing.
        int steps = on(() -> desk.history().done().size());
        choose("#place-part", "");
        press("#mirror-part");
        assertThat(text("#mirror-preview")).contains("Pick a part");
        type("#turn-degrees", "ninety");
        press("#turn-fold");
        assertThat(text("#turn-preview")).contains("ninety");
        assertThat(on(() -> desk.history().done().size())).isEqualTo(steps);
    }

    private Vector3d pivot(String node) throws Exception {
        Asset asset = now();
        return new org.cleanmarrow.pose.Rig(asset)
                .rest()
                .world()[asset.findNode(node)]
                .getTranslation(new Vector3d());
    }

    @Test
    public void theVestIsStoodUpAtItsSize() throws Exception {
        open("float-vest");
        assertThat(on(() -> desk.findings().stream().map(f -> f.check()).toList()))
                .contains("size");
        fix("size");
        station(Station.SCALE_AND_AXES);
        press("#turn-z");
        type("#turn-degrees", "-90");
        press("#turn-fold");
        quiet();
        press("#ground-centre");
        press("#drop-ground");
        quiet();
        Box box = RestBox.of(now());
        double metres = now().conventions().metresPerUnit();
        assertThat(box.size().y * metres).isBetween(0.3, 0.6);
        assertThat(box.min().y * metres).isCloseTo(0, within(1e-4));
        assertThat(box.centre().x * metres).isCloseTo(0, within(1e-4));
        press("#convert");
        quiet();
        assertThat(on(() -> desk.findings())).isEmpty();
        station(Station.INTAKE);
        assertThat(((TextField) find("#simplify-triangles")).getText()).isNotEmpty();
        choose("#simplify-level", 1);
        press("#simplify");
        quiet();
        assertThat(LodFamilies.of(now())).hasSize(1);
        assertThat(on(() -> desk.jobs().message().get())).contains("mm");
    }

    @Test
    public void aTakeIsJoinedWithATableAndNamesComeFromAReference() throws Exception {
        Path folder = Files.createTempDirectory("ferry");
        for (String needed : List.of("ferry-pilot", "punting-take")) {
            Demo demo = Demo.named(needed).orElseThrow();
            Files.write(folder.resolve(demo.file()), demo.bytes().get());
        }
        on(() -> {
            desk.files().open(List.of(folder.resolve("ferry-pilot.glb"), folder.resolve("punting-take.bvh")));
            return null;
        });
        quiet();
        station(Station.INTAKE);
        assertThat(rows("#joined")).contains("take_3:hips  →  hips", "take_3:left_hand  →  left_hand");
        assertThat(now().findClip("punting-take")).isNotNegative();
        on(() -> {
            desk.files().openDemo(Demo.named("punting-take").orElseThrow());
            return null;
        });
        quiet();
        press("#replace-prefix");
        quiet();
        assertThat(now().findNode("left_hand")).isNotNegative();
        on(() -> {
            desk.undo();
            desk.files().namesFrom(folder.resolve("ferry-pilot.glb"));
            return null;
        });
        quiet();
        assertThat(now().findNode("left_hand")).isNotNegative();
    }

    @Test
    public void theSkeletonIsGivenRolesStraightenedTrimmedAndRooted() throws Exception {
        openDemo();
        station(Station.SKELETON);
        assertThat(text("#roles-what")).contains("2 that a body needs");
        press("#guess-roles");
        quiet();
        assertThat(text("#roles-what")).contains("none that a body needs");
        // A dot of the figure chooses its role, and its joint in the view.
        Node dot = find("#role-leftHand");
        on(() -> {
            dot.requestFocus();
            return null;
        });
        hand.push(KeyCode.ENTER);
        quiet();
        assertThat(on(() -> desk.selection().joint().get())).isEqualTo("left_hand");
        assertThat(text("#role-holder")).isEqualTo("leftHand: left_hand");
        // A wrong joint is found, and mended by its fix.
        on(() -> {
            desk.selection().joint().set("scarf_tail");
            return null;
        });
        choose("#role", Role.JAW);
        press("#give-role");
        quiet();
        assertThat(finding("roles").message().toString()).contains("jaw", "scarf_tail");
        fix("roles");
        assertThat(on(() -> desk.findings().stream().noneMatch(f -> f.check().equals("roles"))))
                .isTrue();
        press("#t-pose");
        quiet();
        assertThat(rows("#rest-and-bind")).isNotEmpty();
        press("#go-to-bind");
        quiet();
        assertThat(rows("#rest-and-bind")).isEmpty();
        assertThat(rows("#trim-table").stream().filter(r -> r.endsWith("goes")).count())
                .isEqualTo(15);
        press("#trim-idle");
        quiet();
        assertThat(rows("#trim-table").stream().noneMatch(r -> r.endsWith("goes")))
                .isTrue();
        press("#motion-to-root");
        quiet();
        assertThat(on(() -> desk.jobs().message().get())).contains("root joint at the origin");
        press("#add-root");
        quiet();
        press("#motion-to-root");
        quiet();
        assertThat(on(() ->
                        desk.history().done().getLast().motion().orElseThrow().largestMetres()))
                .isLessThan(1e-4);
        int root = now().findNode("root");
        assertThat(now().clips().stream().flatMap(c -> c.channels().stream()).anyMatch(c -> c.node() == root))
                .isTrue();
        assertThat(on(() -> desk.findingsAt(Station.SKELETON))).isEmpty();
    }

    private double lastMoved() throws Exception {
        return on(() -> desk.history().done().getLast().motion().orElseThrow().largestMetres());
    }

    private void choose(String joint) throws Exception {
        on(() -> {
            desk.selection().joint().set(joint);
            return null;
        });
        quiet();
    }

    private String above(String node) throws Exception {
        Asset asset = now();
        int parent = asset.parents()[asset.findNode(node)];
        return parent < 0 ? "" : asset.nodes().get(parent).name();
    }

    @Test
    public void theHeronsHierarchyIsChangedAndNothingMoves() throws Exception {
        open("marsh-heron");
        station(Station.SKELETON);
        int joints = now().nodes().size();
        press("#merge-joint");
        assertThat(text("#hang-preview")).contains("Select a joint first");
        assertThat(on(() -> desk.history().done())).isEmpty();

        choose("left_foot");
        press("#split-joint");
        quiet();
        assertThat(now().nodes()).hasSize(joints + 1);
        assertThat(above("left_foot")).isEqualTo("left_shank_1");
        assertThat(above("left_shank_1")).isEqualTo("left_shank");
        assertThat(lastMoved()).isLessThan(1e-4);

        choose("left_shank_1");
        press("#merge-joint");
        quiet();
        assertThat(now().nodes()).hasSize(joints);
        assertThat(above("left_foot")).isEqualTo("left_shank");

        choose("beak");
        type("#hang-on", "neck_3");
        press("#hang");
        quiet();
        assertThat(above("beak")).isEqualTo("neck_3");
        assertThat(lastMoved()).isLessThan(1e-4);
        press("#undo");
        quiet();
        assertThat(above("beak")).isEqualTo("head");

        choose("head");
        type("#hang-on", "beak_end");
        press("#hang");
        quiet();
        assertThat(on(() -> desk.jobs().message().get())).contains("head would be below itself");
        assertThat(above("head")).isEqualTo("neck_7");

        press("#orient-all");
        quiet();
        assertThat(lastMoved()).isLessThan(1e-4);
        // Every bone with one joint after it looks along its own Y axis.
        Asset turned = now();
        for (String name : List.of("left_shank", "right_shank", "neck_2", "neck_4")) {
            int node = turned.findNode(name);
            int child = turned.nodes().get(node).children()[0];
            Vector3d way = turned.nodes().get(child).local().translationVector();
            assertThat(Math.toDegrees(way.angle(new Vector3d(0, 1, 0))))
                    .as(name)
                    .isLessThan(0.01);
        }
    }

    @Test
    public void theBridgesPartsBecomeJoints() throws Exception {
        open("lift-bridge");
        station(Station.SKELETON);
        assertThat(on(() -> desk.now().skins())).isEmpty();
        int moving = now().clips().getFirst().channels().size();
        press("#rig-parts");
        quiet();
        Asset rigged = now();
        assertThat(rigged.skins()).isNotEmpty();
        assertThat(rigged.clips().getFirst().channels()).hasSize(moving);
        assertThat(lastMoved()).isLessThan(1e-4);
        assertThat(rigged.jointFlags()[rigged.findNode("west_leaf")]).isTrue();
    }

    @Test
    public void theSkeletonIsComparedWithAReferenceAndMadeLikeIt() throws Exception {
        Path folder = Files.createTempDirectory("marrow-reference");
        Asset pilot = Demo.named("ferry-pilot").orElseThrow().asset().get();
        Asset other = new OrientJoints("left_*", OrientJoints.Along.X)
                .apply(
                        new RenamePattern(Rename.Kind.NODE, "left_*", "L_*")
                                .apply(pilot, Work.QUIET)
                                .asset(),
                        Work.QUIET)
                .asset();
        other = new OrientJoints("L_*", OrientJoints.Along.X)
                .apply(other, Work.QUIET)
                .asset();
        Files.write(folder.resolve("house-rig.glb"), GltfWriter.glb(other));
        openDemo();
        station(Station.SKELETON);
        assertThat(text("#reference-what")).contains("Load another skeleton");
        on(() -> {
            desk.files().openReference(folder.resolve("house-rig.glb"));
            return null;
        });
        quiet();
        assertThat(rows("#reference-differences")).contains("L_upper_arm is missing", "left_upper_arm is not there");
        assertThat(rows("#reference-pairs")).contains("left_upper_arm  →  L_upper_arm");
        // One pair taken away by hand and given again.
        choose("left_forearm");
        type("#reference-name", "");
        press("#reference-pair");
        assertThat(rows("#reference-pairs")).doesNotContain("left_forearm  →  L_forearm");
        type("#reference-name", "L_forearm");
        press("#reference-pair");
        // Kept as a ledger of one step, and taken from it again.
        Path kept = folder.resolve("names.ledger.json");
        java.util.Map<String, String> names = new java.util.HashMap<>();
        on(() -> {
            desk.files().saveNames(kept, new RenameMany(Rename.Kind.NODE, java.util.Map.of("left_hand", "L_hand")));
            desk.files().loadNames(kept, names::putAll);
            return null;
        });
        quiet();
        assertThat(names).containsExactlyEntriesOf(java.util.Map.of("left_hand", "L_hand"));
        press("#reference-rename");
        quiet();
        assertThat(rows("#reference-differences")).isNotEmpty().allMatch(r -> r.startsWith("L_") && r.contains("axes"));
        press("#reference-match");
        quiet();
        assertThat(text("#reference-what")).contains("all the same");
        assertThat(lastMoved()).isLessThan(1e-4);
    }

    @Test
    public void aLeafSwingsWithinItsLimitsAndTheyAreKept() throws Exception {
        open("lift-bridge");
        station(Station.SKELETON);
        press("#rig-parts");
        quiet();
        choose("west_leaf");
        press("#swing-z");
        type("#swing-from", "0");
        type("#swing-to", "68");
        press("#swing-try");
        assertThat(on(() -> desk.playback().trial().get().name())).isEqualTo("west_leaf z");
        assertThat(on(() -> desk.playedClip().orElseThrow().channels())).hasSize(1);
        assertThat(text("#time-what")).contains("100 %");
        Node slider = find("#swing-at");
        on(() -> {
            slider.requestFocus();
            return null;
        });
        for (int tenth = 0; tenth < 5; tenth++) {
            hand.push(KeyCode.LEFT);
        }
        assertThat(text("#time-what")).contains("50 %");
        press("#swing-keep");
        quiet();
        int leaf = now().findNode("west_leaf");
        assertThat(Swing.of(now().nodes().get(leaf))).contains(new Swing(2, 0, 68));
        press("#swing-stop");
        assertThat(on(() -> desk.playback().trial().get())).isNull();
        type("#swing-to", "-5");
        press("#swing-keep");
        quiet();
        assertThat(on(() -> desk.jobs().message().get())).contains("lesser");
    }
}
