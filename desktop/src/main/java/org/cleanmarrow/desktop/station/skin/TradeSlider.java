package org.cleanmarrow.desktop.station.skin;

import java.util.List;
import java.util.Optional;
import java.util.stream.DoubleStream;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.Slider;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.station.StepRow;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.steps.skin.TransferWeights;

/**
 * What a transfer does where it cannot do both: keep the surface even, or keep it off the skin. Tried at five places, and then the
 * slider goes between these alone: the view shows each at once, in whatever pose it is, with what it does over all trial poses.
 */
final class TradeSlider extends VBox {
    private static final int TRIES = 5;

    private final Desk desk;
    private final Maker maker;
    private final Slider trade = new Slider(0, 1, 0.5);
    private final Label figures = Widgets.twoLines("transfer-tried");
    private final Button act;
    private List<TransferWeights.Tried> tried = List.of();
    private final Button back;
    /** What was tried, with the first trade. */
    private TransferWeights step;

    /** The transfer as it is typed, with another trade. */
    interface Maker {
        TransferWeights make(double trade) throws StepRow.Unclear;
    }

    TradeSlider(Desk desk, Maker maker) {
        super(4);
        this.desk = desk;
        this.maker = maker;
        trade.setId("transfer-trade");
        trade.setAccessibleText(Labels.of("transfer.trade"));
        trade.setBlockIncrement(1.0 / (TRIES - 1));
        trade.setMajorTickUnit(1.0 / (TRIES - 1));
        trade.setMinorTickCount(0);
        HBox.setHgrow(trade, Priority.ALWAYS);
        HBox line =
                new HBox(6, new Label(Labels.of("transfer.even")), trade, new Label(Labels.of("transfer.off.skin")));
        line.setAlignment(javafx.geometry.Pos.CENTER_LEFT);
        act = Widgets.button("transfer-try", "transfer.try", this::tryAll);
        back = Widgets.button("transfer-back", "transfer.back", this::forget);
        back.setDisable(true);
        trade.valueProperty().addListener((o, a, b) -> show());
        // What was tried says nothing of another asset, and is not to be seen elsewhere.
        desk.asset().addListener((o, a, b) -> forget());
        desk.station().addListener((o, a, b) -> forget());
        getChildren().addAll(line, Widgets.row(act, back), figures);
    }

    double value() {
        return nearest().map(TransferWeights.Tried::trade).orElse(Math.round(trade.getValue() * 20) / 20.0);
    }

    private void tryAll() {
        double[] trades =
                DoubleStream.iterate(0, t -> t + 1.0 / (TRIES - 1)).limit(TRIES).toArray();
        TransferWeights asked;
        try {
            asked = maker.make(trades[0]);
        } catch (StepRow.Unclear e) {
            figures.setText(e.getMessage());
            return;
        }
        Asset asset = desk.now();
        act.setDisable(true);
        desk.jobs()
                .tryOut(
                        w -> asked.tried(asset, trades, w),
                        found -> {
                            if (asset == desk.now() && isTyped(asked)) {
                                tried = found;
                                step = asked;
                                back.setDisable(false);
                                trade.setSnapToTicks(true);
                                trade.setShowTickMarks(true);
                                show();
                            }
                        },
                        () -> act.setDisable(false));
    }

    private Optional<TransferWeights.Tried> nearest() {
        return tried.stream().min(java.util.Comparator.comparingDouble(t -> Math.abs(t.trade() - trade.getValue())));
    }

    private void show() {
        if (step != null && !isTyped(step)) {
            forget();
        }
        nearest().ifPresent(t -> {
            desk.seeing().tried().set(t.asset());
            figures.setText(Labels.of("transfer.tried", 100 * t.stretched(), t.deep()));
        });
    }

    /** Whether what was tried is what would be done now, but for the trade. */
    private boolean isTyped(TransferWeights asked) {
        try {
            return maker.make(asked.trade()).equals(asked);
        } catch (StepRow.Unclear e) {
            return false;
        }
    }

    private void forget() {
        if (step != null) {
            tried = List.of();
            step = null;
            desk.seeing().tried().set(null);
            trade.setSnapToTicks(false);
            trade.setShowTickMarks(false);
            back.setDisable(true);
            figures.setText("");
        }
    }
}
