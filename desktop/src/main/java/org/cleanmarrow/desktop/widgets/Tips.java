package org.cleanmarrow.desktop.widgets;

import java.util.function.Supplier;
import javafx.scene.Node;
import javafx.scene.control.Tooltip;
import javafx.scene.input.MouseEvent;

/**
 * What something says where the pointer rests on it. A tooltip is a window of its own, so it is made when the pointer first comes: a
 * desk has hundreds that nobody ever asks for.
 */
public final class Tips {
    private static final double WIDTH = 420;
    private static final String SAYS = "tip.says";
    private static final String MADE = "tip.made";

    private Tips() {}

    /** Says a text, to who reads by ear too; an empty one says nothing. */
    public static void say(Node node, String text) {
        node.setAccessibleHelp(text.isEmpty() ? null : text);
        say(node, () -> text);
    }

    /** Says what holds by then. */
    public static void say(Node node, Supplier<String> text) {
        if (node.getProperties().put(SAYS, text) == null) {
            node.addEventHandler(MouseEvent.MOUSE_ENTERED, e -> come(node));
        }
    }

    /** What it would say now. */
    @SuppressWarnings("unchecked")
    public static String of(Node node) {
        Supplier<String> says = (Supplier<String>) node.getProperties().get(SAYS);
        return says == null ? "" : says.get();
    }

    private static void come(Node node) {
        Tooltip tip = (Tooltip) node.getProperties().computeIfAbsent(MADE, k -> made(node));
        if (of(node).isEmpty()) {
            Tooltip.uninstall(node, tip);
        } else {
            Tooltip.install(node, tip);
        }
    }

    private static Tooltip made(Node node) {
        Tooltip tip = new Tooltip();
        tip.setWrapText(true);
        tip.setMaxWidth(WIDTH);
        tip.setOnShowing(e -> tip.setText(of(node)));
        return tip;
    }
}
