package org.cleanmarrow.desktop.station.skeleton;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import javafx.beans.property.ObjectProperty;
import javafx.beans.property.SimpleObjectProperty;
import javafx.scene.control.CheckBox;
import javafx.scene.control.Label;
import javafx.scene.control.ListView;
import javafx.scene.control.TextField;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.station.StepRow;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.NameField;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.pose.RestAndBind;
import org.cleanmarrow.steps.skeleton.InsertJoint;
import org.cleanmarrow.steps.skeleton.MergeJoint;
import org.cleanmarrow.steps.skeleton.MirrorLimb;
import org.cleanmarrow.steps.skeleton.OrientJoints;
import org.cleanmarrow.steps.skeleton.Rebind;
import org.cleanmarrow.steps.skeleton.Reparent;
import org.cleanmarrow.steps.skeleton.RestFrom;
import org.cleanmarrow.steps.skeleton.RigParts;
import org.cleanmarrow.steps.skeleton.RootMotion;
import org.cleanmarrow.steps.skeleton.SplitJoint;

/** Root motion, rest against bind, and the hierarchy changed joint by joint. */
final class HierarchySection {
    private final Desk desk;
    private final CheckBox heading = new CheckBox(Labels.of("motion.heading"));
    private final CheckBox height = new CheckBox(Labels.of("motion.height"));
    private final TextField clips = new TextField("*");
    private final ListView<String> differences = new ListView<>();
    private final NameField below;
    private final CheckBox inPlace = new CheckBox(Labels.of("hang.in.place"));
    private final ObjectProperty<OrientJoints.Along> along = new SimpleObjectProperty<>(OrientJoints.Along.Y);
    private final VBox motion;
    private final VBox rest;
    private final VBox edit;
    private final VBox axes;
    private final Label what = Widgets.sentence("");
    private List<RestAndBind.Row> listed;

    HierarchySection(Desk desk) {
        this.desk = desk;
        heading.setId("motion-heading");
        heading.setSelected(true);
        height.setId("motion-height");
        clips.setId("motion-clips");
        clips.setAccessibleText(Labels.of("motion.clips"));
        motion = new VBox(
                6,
                clips,
                heading,
                height,
                new StepRow(desk, "motion-preview")
                        .also("motion-to-root", "motion.root", () -> travel(RootMotion.Way.TO_ROOT))
                        .also("motion-back", "motion.back", () -> travel(RootMotion.Way.BACK)));
        differences.setId("rest-and-bind");
        differences.getStyleClass().add("mono");
        differences.setFixedCellSize(22);
        differences.setPrefHeight(4 * 22 + 4);
        rest = new VBox(
                6,
                what,
                differences,
                new StepRow(desk, "rest-preview")
                        .also("go-to-bind", "rest.bind", () -> new RestFrom(Optional.empty(), 0))
                        .also("rest-from-frame", "rest.frame", this::frame)
                        .also("rebind", "rest.rebind", Rebind::new));
        below = new NameField("hang-on", () -> List.of(desk.now().nodeRefs()));
        below.setPromptText(Labels.of("hang.on"));
        below.setAccessibleText(Labels.of("hang.on"));
        inPlace.setId("hang-in-place");
        inPlace.setSelected(true);
        edit = new VBox(
                6,
                below,
                inPlace,
                new StepRow(desk, "hang-preview")
                        .also("hang", "hang.act", () -> new Reparent(joint(), above(), inPlace.isSelected()))
                        .also("merge-joint", "hang.merge", () -> new MergeJoint(joint()))
                        .also("split-joint", "hang.split", () -> new SplitJoint(joint(), 2, true))
                        .also("insert-joint", "hang.insert", this::inserted)
                        .also("mirror-limb", "hang.mirror", () -> new MirrorLimb(joint(), false))
                        .also("rig-parts", "hang.rig", () -> new RigParts("*")));
        axes = new VBox(
                6,
                Widgets.choices("along", "orient.along", OrientJoints.Along.values(), along),
                new StepRow(desk, "orient-preview")
                        .also("orient-all", "orient.all", () -> new OrientJoints("*", along.get()))
                        .also("orient-joint", "orient.one", () -> new OrientJoints(joint(), along.get())));
    }

    VBox motion() {
        return motion;
    }

    VBox rest() {
        return rest;
    }

    VBox edit() {
        return edit;
    }

    VBox axes() {
        return axes;
    }

    private Optional<List<RestAndBind.Row>> found() {
        Asset asset = desk.now();
        return desk.facts().of("rest and bind", asset, w -> RestAndBind.of(asset));
    }

    /** How many joints rest elsewhere than where they were bound, in a word. */
    String fact() {
        return found().map(rows -> rows.isEmpty() ? Labels.of("rest.fact.same") : Labels.of("rest.fact", rows.size()))
                .orElse("");
    }

    /** Finds anew where rest and bind differ. */
    void refresh() {
        found().filter(rows -> listed != rows).ifPresent(rows -> {
            listed = rows;
            Asset asset = desk.now();
            differences
                    .getItems()
                    .setAll(rows.stream()
                            .limit(500)
                            .map(r -> String.format(
                                    Locale.ROOT,
                                    "%s · %.1f mm %.1f°",
                                    asset.nodes().get(r.node()).name(),
                                    r.metres() * 1000,
                                    r.degrees()))
                            .toList());
            what.setText(rows.isEmpty() ? Labels.of("rest.same") : Labels.of("rest.differ", rows.size()));
        });
    }

    private String joint() throws StepRow.Unclear {
        if (desk.selection().jointNode() < 0) {
            throw new StepRow.Unclear("skeleton.choose");
        }
        return desk.selection().joint().get();
    }

    /** A joint half way up the bone, named after the two. */
    private InsertJoint inserted() throws StepRow.Unclear {
        String below = joint();
        int parent = desk.now().parents()[desk.selection().jointNode()];
        String above = parent < 0 ? "" : desk.now().nodes().get(parent).name();
        return new InsertJoint(below, above + "_to_" + below, 0.5);
    }

    private Optional<String> above() {
        return Optional.of(below.getText().strip()).filter(s -> !s.isEmpty());
    }

    private RootMotion travel(RootMotion.Way way) {
        return new RootMotion(clips.getText(), way, heading.isSelected(), height.isSelected(), 0);
    }

    private RestFrom frame() throws StepRow.Unclear {
        Clip played = desk.playedClip().orElseThrow(() -> new StepRow.Unclear("rest.no.clip"));
        return new RestFrom(Optional.of(desk.playback().clip().get()), (int)
                Math.rint(desk.playback().seconds().get() * played.rate()));
    }
}
