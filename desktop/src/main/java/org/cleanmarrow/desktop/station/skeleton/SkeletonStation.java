package org.cleanmarrow.desktop.station.skeleton;

import java.util.List;
import javafx.scene.Node;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.station.Act;
import org.cleanmarrow.desktop.station.StationDef;
import org.cleanmarrow.desktop.station.StepRow;
import org.cleanmarrow.desktop.station.StepsAct;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.FileDialogs;
import org.cleanmarrow.desktop.widgets.Tips;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.query.Skeletons;
import org.cleanmarrow.steps.intake.Rename;
import org.cleanmarrow.steps.skeleton.AddRoot;

/** One clean hierarchy: a root at the origin, no stray ends, good names. */
public final class SkeletonStation extends StationDef {
    private final TextField name = new TextField("root");
    private final Label root = Widgets.twoLines("root-what");
    private final Label held = Widgets.name("");
    private final TextField renamed = new TextField();
    private String renamedRef = "";

    public SkeletonStation(Desk desk, FileDialogs dialogs) {
        super(Station.SKELETON, desk);
        TrimSection trim = new TrimSection(desk);
        RolesSection roles = new RolesSection(desk);
        HierarchySection hierarchy = new HierarchySection(desk);
        ReferenceSection reference = new ReferenceSection(desk, dialogs);
        HingeSection hinge = new HingeSection(desk);
        name.setId("root-name");
        name.setPrefColumnCount(9);
        name.setAccessibleText(Labels.of("skeleton.root.name"));
        renamed.setId("new-name");
        renamed.setPrefColumnCount(12);
        renamed.setAccessibleText(Labels.of("skeleton.name"));
        List<Act> acts = List.of(
                new Act(
                                "skeleton-root",
                                root,
                                Widgets.labelled("skeleton.root.name", name),
                                new StepRow(desk, "root-preview").main("add-root", "skeleton.root.act", this::addRoot))
                        .refreshing(this::describeRoot)
                        .says(() -> rooted() ? Labels.of("skeleton.root.fact") : Labels.of("skeleton.root.fact.none")),
                new Act("skeleton-ends", trim).refreshing(trim::refresh).says(trim::fact),
                new Act("skeleton-roles", roles).refreshing(roles::refresh).says(roles::fact),
                new Act("skeleton-pose", roles.posing()),
                new Act("skeleton-rest", hierarchy.rest())
                        .refreshing(hierarchy::refresh)
                        .says(hierarchy::fact),
                new Act("skeleton-motion", hierarchy.motion()),
                new Act("skeleton-hierarchy", hierarchy.edit()).says(() -> Widgets.shortened(joint())),
                new Act("skeleton-axes", hierarchy.axes()),
                new Act("skeleton-reference", reference)
                        .refreshing(reference::refresh)
                        .says(reference::fact),
                new Act("skeleton-hinge", hinge).refreshing(hinge::refresh),
                new Act(
                                "skeleton-rename",
                                renamed,
                                new StepRow(desk, "rename-one-preview")
                                        .also("rename", "skeleton.name.act", this::renaming))
                        .refreshing(this::showName)
                        .says(() -> Widgets.shortened(joint())),
                StepsAct.of(desk, "skeleton-steps", "skeleton"));
        held.getStyleClass().add("in-hand");
        held.setPrefWidth(190);
        held.setMinWidth(30);
        List<Node> tray = List.of(held);
        consistOf(acts, tray, Piece.JOINTS);
    }

    private boolean rooted() {
        return AddRoot.hasCleanRoot(desk.now());
    }

    private String joint() {
        return desk.selection().jointNode() < 0
                ? ""
                : desk.now().nodes().get(desk.selection().jointNode()).name();
    }

    private AddRoot addRoot() throws StepRow.Unclear {
        if (rooted()) {
            throw new StepRow.Unclear("skeleton.root.there");
        }
        return new AddRoot(name.getText().strip());
    }

    private void describeRoot() {
        List<Integer> tops = Skeletons.tops(desk.now());
        root.setText(Labels.of(
                rooted() ? "skeleton.root.clean" : "skeleton.root.why",
                tops.isEmpty() ? "–" : desk.now().nodeRef(tops.getFirst())));
    }

    private Rename renaming() throws StepRow.Unclear {
        if (desk.selection().jointNode() < 0) {
            throw new StepRow.Unclear("skeleton.name.choose");
        }
        return new Rename(Rename.Kind.NODE, renamedRef, renamed.getText().strip());
    }

    private void showName() {
        int node = desk.selection().jointNode();
        renamed.setDisable(node < 0);
        if (node >= 0 && !desk.now().nodeRef(node).equals(renamedRef)) {
            renamedRef = desk.now().nodeRef(node);
            renamed.setText(desk.now().nodes().get(node).name());
        }
    }

    @Override
    public String facts() {
        Asset asset = desk.now();
        int joints = 0;
        for (boolean joint : asset.jointFlags()) {
            joints += joint ? 1 : 0;
        }
        return Labels.of("skeleton.what", joints, Skeletons.tops(asset).size());
    }

    @Override
    public void refresh() {
        String now = desk.selection().jointNode() < 0 ? Labels.of("skin.no.joint") : joint();
        held.setText(now);
        Tips.say(held, now);
    }
}
