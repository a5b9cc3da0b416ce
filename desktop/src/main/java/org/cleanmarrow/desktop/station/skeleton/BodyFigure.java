package org.cleanmarrow.desktop.station.skeleton;

import java.util.EnumMap;
import java.util.Map;
import java.util.Set;
import java.util.function.Consumer;
import javafx.scene.AccessibleRole;
import javafx.scene.input.KeyCode;
import javafx.scene.layout.Pane;
import javafx.scene.shape.Circle;
import javafx.scene.shape.Line;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Tips;
import org.cleanmarrow.roles.Role;

/**
 * A body seen from the front with a dot for each role but the fingers': full where a joint has it, ringed where one that
 * is needed has none. Pressing a dot chooses the role.
 */
final class BodyFigure extends Pane {
    private static final double WIDTH = 250;
    private static final double HEIGHT = 232;

    private final Map<Role, Circle> dots = new EnumMap<>(Role.class);

    BodyFigure(Consumer<Role> chosen) {
        setId("body-figure");
        setMinSize(WIDTH, HEIGHT);
        setPrefSize(WIDTH, HEIGHT);
        setMaxSize(WIDTH, HEIGHT);
        place(Role.HIPS, 0, 118);
        place(Role.SPINE, 0, 98);
        place(Role.CHEST, 0, 79);
        place(Role.UPPER_CHEST, 0, 61);
        place(Role.NECK, 0, 45);
        place(Role.HEAD, 0, 28);
        place(Role.JAW, 0, 12);
        pair(Role.LEFT_EYE, 14, 18);
        pair(Role.LEFT_SHOULDER, 17, 56);
        pair(Role.LEFT_UPPER_ARM, 38, 62);
        pair(Role.LEFT_LOWER_ARM, 66, 84);
        pair(Role.LEFT_HAND, 92, 106);
        pair(Role.LEFT_UPPER_LEG, 17, 132);
        pair(Role.LEFT_LOWER_LEG, 21, 172);
        pair(Role.LEFT_FOOT, 24, 208);
        pair(Role.LEFT_TOES, 34, 222);
        dots.forEach((role, dot) -> {
            Role up = role.parent();
            while (up != null && !dots.containsKey(up)) {
                up = up.parent();
            }
            if (up != null) {
                Circle above = dots.get(up);
                Line bone = new Line(above.getCenterX(), above.getCenterY(), dot.getCenterX(), dot.getCenterY());
                bone.getStyleClass().add("body-bone");
                getChildren().addFirst(bone);
            }
            dot.setId("role-" + role.code());
            dot.getStyleClass().add("body-dot");
            dot.setFocusTraversable(true);
            dot.setAccessibleRole(AccessibleRole.BUTTON);
            dot.setOnMouseClicked(e -> chosen.accept(role));
            dot.setOnKeyPressed(e -> {
                if (e.getCode() == KeyCode.ENTER || e.getCode() == KeyCode.SPACE) {
                    chosen.accept(role);
                    e.consume();
                }
            });
        });
    }

    private void place(Role role, double x, double y) {
        Circle dot = new Circle(WIDTH / 2 + x, y, role.required() ? 7 : 5);
        dots.put(role, dot);
        getChildren().add(dot);
    }

    /** The body looks at us, so its left is on our right. */
    private void pair(Role left, double x, double y) {
        place(left, x, y);
        place(left.twin(), -x, y);
    }

    /** Shows which roles have a joint, and which is chosen. */
    void show(Map<Role, String> joints, Set<Role> troubled, Role chosen) {
        dots.forEach((role, dot) -> {
            String joint = joints.get(role);
            dot.getStyleClass().removeAll("has", "lacks", "troubled", "chosen");
            if (joint != null) {
                dot.getStyleClass().add(troubled.contains(role) ? "troubled" : "has");
            } else if (role.required()) {
                dot.getStyleClass().add("lacks");
            }
            if (role == chosen) {
                dot.getStyleClass().add("chosen");
            }
            String says = Labels.of(joint == null ? "roles.none" : "roles.has", role.code(), joint);
            Tips.say(dot, says);
            dot.setAccessibleText(says);
        });
    }
}
