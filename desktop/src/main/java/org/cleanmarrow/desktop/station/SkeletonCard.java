package org.cleanmarrow.desktop.station;

import java.util.List;
import javafx.scene.control.TextField;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.asset.Skeletons;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.parts.FileDialogs;
import org.cleanmarrow.desktop.parts.Parts;
import org.cleanmarrow.desktop.text.Words;
import org.cleanmarrow.steps.AddRoot;
import org.cleanmarrow.steps.Rename;

/** One clean hierarchy: a root at the origin, no stray ends, good names. */
final class SkeletonCard extends StationCard {
    private final TrimSection trim;
    private final RolesSection roles;
    private final HierarchySection hierarchy;
    private final ReferenceSection reference;
    private final HingeSection hinge;

    SkeletonCard(Desk desk, FileDialogs dialogs) {
        super(desk);
        trim = new TrimSection(desk);
        roles = new RolesSection(desk);
        hierarchy = new HierarchySection(desk);
        reference = new ReferenceSection(desk, dialogs);
        hinge = new HingeSection(desk);
        desk.joint().addListener((o, a, b) -> {
            if (getParent() != null) {
                refresh();
            }
        });
    }

    @Override
    void fill() {
        Asset asset = desk.now();
        List<Integer> tops = Skeletons.tops(asset);
        int joints = 0;
        for (boolean joint : asset.jointFlags()) {
            joints += joint ? 1 : 0;
        }
        title("station.skeleton", Words.of("skeleton.what", joints, tops.size()));
        heading("skeleton.root");
        boolean clean = AddRoot.hasCleanRoot(asset);
        sentence(
                clean ? "skeleton.root.clean" : "skeleton.root.why",
                tops.isEmpty() ? "–" : asset.nodeRef(tops.getFirst()));
        TextField name = new TextField("root");
        name.setId("root-name");
        name.setPrefColumnCount(9);
        name.setAccessibleText(Words.of("skeleton.root.name"));
        var add = Parts.mainButton(
                "add-root",
                "skeleton.root.act",
                () -> desk.apply(new AddRoot(name.getText().strip())));
        add.setDisable(clean || tops.isEmpty());
        name.setDisable(add.isDisabled());
        getChildren().add(Parts.row(name, add));
        heading("skeleton.ends");
        trim.refresh();
        getChildren().add(trim);
        heading("skeleton.roles");
        roles.refresh();
        getChildren().add(roles);
        heading("skeleton.rest");
        getChildren().addAll(Parts.sentence(hierarchy.refresh()), hierarchy.rest());
        heading("skeleton.motion");
        getChildren().add(hierarchy.motion());
        heading("skeleton.edit");
        getChildren().add(hierarchy.edit());
        heading("skeleton.reference");
        reference.refresh();
        getChildren().add(reference);
        heading("skeleton.hinge");
        hinge.refresh();
        getChildren().add(hinge);
        heading("skeleton.name");
        int node = desk.jointNode();
        if (node < 0) {
            sentence("skeleton.name.choose");
            return;
        }
        TextField renamed = new TextField(asset.nodes().get(node).name());
        renamed.setId("new-name");
        renamed.setPrefColumnCount(14);
        renamed.setAccessibleText(Words.of("skeleton.name"));
        String ref = asset.nodeRef(node);
        getChildren().add(Parts.row(renamed, Parts.button("rename", "skeleton.name.act", () -> {
            String to = renamed.getText().strip();
            desk.apply(new Rename(Rename.Kind.NODE, ref, to));
            desk.joint().set(to);
        })));
    }
}
