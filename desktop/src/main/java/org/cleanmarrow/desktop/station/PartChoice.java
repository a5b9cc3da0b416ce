package org.cleanmarrow.desktop.station;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import javafx.scene.control.ComboBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Node;

/** A choice of one part, or of everything; follows what is chosen in the view. */
public final class PartChoice extends ComboBox<String> {
    private static final String EVERYTHING = "";

    private final Desk desk;
    private final boolean withEverything;
    private Asset listed;

    public PartChoice(Desk desk, String id, boolean withEverything) {
        this.desk = desk;
        this.withEverything = withEverything;
        setId(id);
        setMaxWidth(Double.MAX_VALUE);
        setAccessibleText(Labels.of("part.choice"));
        setConverter(Widgets.shown(ref -> ref.equals(EVERYTHING) ? Labels.of("part.everything") : ref));
        desk.selection().chosen().addListener((o, was, is) -> follow());
    }

    /** Lists the parts of the asset as it is. */
    public void refresh() {
        Asset asset = desk.now();
        if (listed == asset) {
            return;
        }
        listed = asset;
        String before = getValue();
        List<String> refs = new ArrayList<>();
        if (withEverything) {
            refs.add(EVERYTHING);
        }
        String[] all = asset.nodeRefs();
        for (int n = 0; n < all.length; n++) {
            if (asset.nodes().get(n).mesh() >= 0) {
                refs.add(all[n]);
            }
        }
        if (!refs.equals(getItems())) {
            getItems().setAll(refs);
        }
        setValue(before != null && refs.contains(before) ? before : refs.isEmpty() ? null : refs.getFirst());
    }

    private void follow() {
        if (!desk.isOpen() || desk.selection().chosen().get().isEmpty()) {
            return;
        }
        refresh();
        int mesh = desk.selection().chosen().get().mesh();
        Asset asset = desk.now();
        for (int n = 0; n < asset.nodes().size(); n++) {
            if (asset.nodes().get(n).mesh() == mesh) {
                setValue(asset.nodeRef(n));
                return;
            }
        }
    }

    /** The part, empty for everything. */
    public Optional<String> part() {
        return Optional.ofNullable(getValue()).filter(v -> !v.equals(EVERYTHING));
    }

    /** The part, or why there is none. */
    public String one() throws StepRow.Unclear {
        return part().orElseThrow(() -> new StepRow.Unclear("part.none"));
    }

    /** The node of the part in the asset looked at. */
    public Optional<Node> node() {
        return part().map(p -> desk.now().findNode(p))
                .filter(n -> n >= 0)
                .map(n -> desk.now().nodes().get(n));
    }
}
