package org.cleanmarrow.desktop.station;

import java.util.List;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.layout.FlowPane;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.FileDialogs;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.query.Skeletons;
import org.cleanmarrow.steps.intake.Rename;
import org.cleanmarrow.steps.skeleton.AddRoot;

/** One clean hierarchy: a root at the origin, no stray ends, good names. */
final class SkeletonCard extends StationCard {
    private final TrimSection trim;
    private final RolesSection roles;
    private final HierarchySection hierarchy;
    private final ReferenceSection reference;
    private final HingeSection hinge;
    private final TextField name = new TextField("root");
    private final Button add = Widgets.mainButton("add-root", "skeleton.root.act", this::addRoot);
    private final FlowPane root = Widgets.row(name, add);
    private final Label rest = Widgets.sentence("");
    private final TextField renamed = new TextField();
    private final FlowPane rename = Widgets.row(renamed, Widgets.button("rename", "skeleton.name.act", this::rename));
    private String renamedRef = "";

    SkeletonCard(Desk desk, FileDialogs dialogs) {
        super(desk);
        trim = new TrimSection(desk);
        roles = new RolesSection(desk);
        hierarchy = new HierarchySection(desk);
        reference = new ReferenceSection(desk, dialogs);
        hinge = new HingeSection(desk);
        name.setId("root-name");
        name.setPrefColumnCount(9);
        name.setAccessibleText(Labels.of("skeleton.root.name"));
        renamed.setId("new-name");
        renamed.setPrefColumnCount(14);
        renamed.setAccessibleText(Labels.of("skeleton.name"));
        desk.joint().addListener((o, a, b) -> {
            if (getParent() != null) {
                refresh();
            }
        });
    }

    private void addRoot() {
        desk.apply(new AddRoot(name.getText().strip()));
    }

    private void rename() {
        String to = renamed.getText().strip();
        desk.apply(new Rename(Rename.Kind.NODE, renamedRef, to));
        desk.joint().set(to);
    }

    @Override
    void fill() {
        Asset asset = desk.now();
        List<Integer> tops = Skeletons.tops(asset);
        int joints = 0;
        for (boolean joint : asset.jointFlags()) {
            joints += joint ? 1 : 0;
        }
        title("station.skeleton", Labels.of("skeleton.what", joints, tops.size()));
        heading("skeleton.root");
        boolean clean = AddRoot.hasCleanRoot(asset);
        sentence(
                clean ? "skeleton.root.clean" : "skeleton.root.why",
                tops.isEmpty() ? "–" : asset.nodeRef(tops.getFirst()));
        add.setDisable(clean || tops.isEmpty());
        name.setDisable(add.isDisabled());
        put(root);
        heading("skeleton.ends");
        trim.refresh();
        put(trim);
        heading("skeleton.roles");
        roles.refresh();
        put(roles);
        heading("skeleton.rest");
        rest.setText(hierarchy.refresh());
        put(rest, hierarchy.rest());
        heading("skeleton.motion");
        put(hierarchy.motion());
        heading("skeleton.edit");
        put(hierarchy.edit());
        heading("skeleton.reference");
        reference.refresh();
        put(reference);
        heading("skeleton.hinge");
        hinge.refresh();
        put(hinge);
        heading("skeleton.name");
        int node = desk.jointNode();
        if (node < 0) {
            sentence("skeleton.name.choose");
            return;
        }
        if (!asset.nodeRef(node).equals(renamedRef)) {
            renamedRef = asset.nodeRef(node);
            renamed.setText(asset.nodes().get(node).name());
        }
        put(rename);
    }
}
