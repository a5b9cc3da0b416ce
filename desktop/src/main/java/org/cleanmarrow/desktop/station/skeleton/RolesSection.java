package org.cleanmarrow.desktop.station.skeleton;

import java.util.EnumMap;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.OptionalDouble;
import java.util.Set;
import javafx.geometry.Pos;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import org.cleanmarrow.convention.Lengths;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.station.StepRow;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.roles.Role;
import org.cleanmarrow.roles.RoleGuess;
import org.cleanmarrow.roles.Roles;
import org.cleanmarrow.steps.skeleton.SetRoles;
import org.cleanmarrow.steps.skeleton.TPose;

/** Which joint is which part of a body: guessed, seen on a figure, changed by role and chosen joint; and straightened. */
final class RolesSection extends VBox {
    private final Desk desk;
    private final Label what = Widgets.sentence("");
    private final ComboBox<Role> role = new ComboBox<>();
    private final Label holder = Widgets.twoLines("role-holder");
    private final BodyFigure figure = new BodyFigure(this::choose);
    private final TextField down = new TextField("0");
    private final VBox posing;

    RolesSection(Desk desk) {
        super(6);
        this.desk = desk;
        role.setId("role");
        role.getItems().setAll(Role.values());
        role.setValue(Role.HIPS);
        role.setAccessibleText(Labels.of("roles.role"));
        role.setConverter(Widgets.shown(Role::code));
        role.valueProperty().addListener((o, a, b) -> refresh());
        what.setId("roles-what");
        down.setId("arms-down");
        down.setPrefColumnCount(4);
        down.setAccessibleText(Labels.of("roles.down"));
        HBox centred = new HBox(figure);
        centred.setAlignment(Pos.CENTER);
        StepRow guess = new StepRow(desk, "roles-preview").also("guess-roles", "roles.guess", this::guessed);
        StepRow give = new StepRow(desk, "role-preview")
                .also("give-role", "roles.give", () -> given(true))
                .also("take-role", "roles.take", () -> given(false));
        HBox angle = new HBox(6, new Label(Labels.of("roles.down")), down, new Label("°"));
        angle.setAlignment(Pos.CENTER_LEFT);
        StepRow pose = new StepRow(desk, "pose-preview").also("t-pose", "roles.straighten", this::straight);
        getChildren().addAll(what, guess, centred, role, holder, give);
        posing = new VBox(6, angle, pose);
    }

    private void choose(Role chosen) {
        role.setValue(chosen);
        List<Integer> nodes = Roles.of(desk.now()).getOrDefault(chosen, List.of());
        if (!nodes.isEmpty()) {
            desk.selection().joint().set(desk.now().nodeRef(nodes.getFirst()));
        }
    }

    /** The T-pose, and arms below it. */
    VBox posing() {
        return posing;
    }

    /** How many roles have a joint, in a word. */
    String fact() {
        Asset asset = desk.now();
        return desk.facts()
                .of("roles", asset, w -> Roles.of(asset).size())
                .map(many -> Labels.of("roles.fact", many))
                .orElse("");
    }

    void refresh() {
        if (!desk.isOpen()) {
            return;
        }
        Asset asset = desk.now();
        guesses();
        Map<Role, String> joints = new EnumMap<>(Role.class);
        Roles.of(asset).forEach((r, nodes) -> joints.put(r, asset.nodeRef(nodes.getFirst())));
        Set<Role> troubled = EnumSet.noneOf(Role.class);
        for (Finding finding : desk.findings()) {
            if (finding.check().equals("roles")
                    && finding.place().node() >= 0
                    && finding.place().node() < asset.nodes().size()) {
                troubled.addAll(Roles.of(asset.nodes().get(finding.place().node())));
            }
        }
        figure.show(joints, troubled, role.getValue());
        long missing =
                Role.allRequired().stream().filter(r -> !joints.containsKey(r)).count();
        what.setText(joints.isEmpty() ? Labels.of("roles.nothing") : Labels.of("roles.what", joints.size(), missing));
        String joint = joints.get(role.getValue());
        holder.setText(Labels.of(
                joint == null ? "roles.none" : "roles.has", role.getValue().code(), joint));
    }

    /** Found beforehand: guessing takes time. */
    private Map<Role, Integer> guesses() {
        Asset asset = desk.now();
        return desk.facts()
                .of("guessed roles", asset, w -> {
                    Map<Role, Integer> found = new EnumMap<>(Role.class);
                    RoleGuess.of(asset).forEach((r, guess) -> found.put(r, guess.node()));
                    return found;
                })
                .orElse(null);
    }

    private SetRoles guessed() throws StepRow.Unclear {
        Map<Role, Integer> found = guesses();
        if (found == null) {
            throw new StepRow.Unclear("roles.guessing");
        }
        if (found.isEmpty()) {
            throw new StepRow.Unclear("roles.guess.none");
        }
        return SetRoles.of(desk.now(), found);
    }

    private SetRoles given(boolean give) throws StepRow.Unclear {
        if (give && desk.selection().jointNode() < 0) {
            throw new StepRow.Unclear("roles.choose");
        }
        Map<Role, Integer> now = new EnumMap<>(Role.class);
        Roles.of(desk.now()).forEach((r, nodes) -> now.put(r, nodes.getFirst()));
        now.remove(role.getValue());
        if (give) {
            now.put(role.getValue(), desk.selection().jointNode());
        }
        return SetRoles.of(desk.now(), now);
    }

    private TPose straight() throws StepRow.Unclear {
        OptionalDouble angle = Lengths.number(down.getText());
        if (angle.isEmpty()) {
            throw new StepRow.Unclear("place.degrees.bad", down.getText());
        }
        return new TPose(angle.getAsDouble());
    }
}
