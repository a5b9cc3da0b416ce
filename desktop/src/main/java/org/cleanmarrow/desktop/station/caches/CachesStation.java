package org.cleanmarrow.desktop.station.caches;

import java.util.List;
import java.util.Optional;
import javafx.scene.Node;
import javafx.scene.control.CheckBox;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import org.cleanmarrow.caches.CacheUse;
import org.cleanmarrow.caches.Shrinking;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.station.Act;
import org.cleanmarrow.desktop.station.Fields;
import org.cleanmarrow.desktop.station.StationDef;
import org.cleanmarrow.desktop.station.StepRow;
import org.cleanmarrow.desktop.station.StepsAct;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.viewport.Brush;
import org.cleanmarrow.desktop.viewport.Chooser;
import org.cleanmarrow.desktop.viewport.ViewportPane;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.steps.caches.BakeCache;
import org.cleanmarrow.steps.caches.CacheToJoints;
import org.cleanmarrow.steps.caches.FitCache;
import org.cleanmarrow.steps.caches.RecomputeNormals;
import org.cleanmarrow.steps.caches.ShrinkPieces;
import org.cleanmarrow.steps.caches.StrandsToMesh;
import org.cleanmarrow.surface.CornerNormals;
import org.cleanmarrow.surface.Strands;

/** What an engine cannot play, turned into what it can: caches, pieces, strands. */
public final class CachesStation extends StationDef {
    private final Fields fields;
    private final CacheList list;
    private final TextField fitted;
    private final TextField simulated;
    private final TextField baked;
    private final TextField clip;
    private final TextField lead;
    private final CheckBox zero = new CheckBox(Labels.of("caches.zero"));
    private final TextField jointed;
    private final TextField joints;
    private final ComboBox<CacheToJoints.Hierarchy> hierarchy;
    private final TextField normals;
    private final TextField hard;
    private final TextField pieces;
    private final TextField first;
    private final TextField last;
    private final ComboBox<Shrinking.Order> order;
    private final TextField strands;
    private final ComboBox<Level> level;
    private final TextField thickness;
    private final TextField scalp;
    private final ClothForm cloth;
    private final StrayPaint paint = new StrayPaint();
    private final ShatterForm shatter;
    private final Label counts = Widgets.sentence("");

    /** How strands are built. */
    private enum Level {
        RIBBONS,
        TUBES,
        FINER,
        FINEST;

        int number() {
            return ordinal() + 2;
        }
    }

    public CachesStation(Desk desk, ViewportPane viewport) {
        super(Station.CACHES, desk);
        fields = new Fields(desk, "caches");
        list = new CacheList(desk);
        fitted = fields.names("fit-mesh", fields::meshes, "");
        simulated = fields.names("fit-clip", fields::clips, "");
        baked = fields.names("bake-mesh", fields::meshes, "");
        clip = fields.names("bake-clip", fields::clips, "");
        lead = fields.number("bake-lead", "0");
        zero.setId("bake-zero");
        jointed = fields.names("joints-mesh", fields::meshes, "");
        joints = fields.number("joints-most", "40");
        hierarchy = fields.choice("joints-hierarchy", CacheToJoints.Hierarchy.values());
        normals = fields.names("normals-mesh", fields::meshes, "*");
        hard = fields.number("normals-hard", "60");
        pieces = fields.names("shrink-part", fields::meshes, "");
        first = fields.number("shrink-first", "0");
        last = fields.number("shrink-last", "30");
        order = fields.choice("shrink-order", Shrinking.Order.values());
        strands = fields.names("strands-part", this::withStrands, "");
        level = fields.choice("strands-level", Level.values());
        thickness = fields.number("strands-thickness", "2");
        scalp = fields.names("strands-skin", fields::meshes, "");
        cloth = new ClothForm(desk, fields, viewport);
        shatter = new ShatterForm(desk, fields);
        counts.setId("strands-counts");
        List<Act> acts = List.of(
                new Act(
                                "caches-fit",
                                Widgets.labelled("caches.mesh", fitted),
                                Widgets.labelled("caches.simulated", simulated),
                                new StepRow(desk, "fit-cache-preview").main("fit-cache", "caches.fit", this::fitting))
                        .opened(),
                new Act(
                        "caches-bake",
                        Widgets.labelled("caches.mesh", baked),
                        Widgets.labelled("caches.clip", clip),
                        Widgets.labelled("caches.lead", lead),
                        zero,
                        new StepRow(desk, "bake-preview").also("bake-cache", "caches.bake", this::baking)),
                new Act(
                        "caches-normals",
                        Widgets.labelled("caches.meshes", normals),
                        Widgets.labelled("caches.hard", hard),
                        new StepRow(desk, "normals-preview")
                                .also("recompute-normals", "caches.normals", this::computing)),
                new Act(
                        "caches-joints",
                        Widgets.labelled("caches.mesh", jointed),
                        Widgets.labelled("caches.joints", joints),
                        Widgets.labelled("caches.hierarchy", hierarchy),
                        new StepRow(desk, "joints-preview").also("cache-to-joints", "caches.make", this::jointing)),
                new Act("caches-shatter", shatter.form()),
                new Act(
                        "caches-shrink",
                        Widgets.labelled("caches.part", pieces),
                        Widgets.labelled("caches.first", first),
                        Widgets.labelled("caches.last", last),
                        Widgets.labelled("caches.order", order),
                        new StepRow(desk, "shrink-preview").also("shrink-pieces", "caches.shrink", this::shrinking)),
                new Act(
                                "caches-strands",
                                Widgets.labelled("caches.part", strands),
                                Widgets.labelled("caches.level", level),
                                Widgets.labelled("caches.thickness", thickness),
                                Widgets.labelled("caches.skin", scalp),
                                counts,
                                new StepRow(desk, "strands-preview")
                                        .also("strands-to-mesh", "caches.build", this::building))
                        .refreshing(this::count),
                new Act("caches-cloth", cloth.form()),
                StepsAct.of(desk, "caches-steps", "caches"));
        level.valueProperty().addListener((o, a, b) -> count());
        strands.textProperty().addListener((o, a, b) -> count());
        StrayTray tray = new StrayTray(viewport, paint);
        viewport.chooser().gesture().addListener((o, a, b) -> tray.setVisible(b == Chooser.Gesture.PAINT));
        tray.setVisible(false);
        consistOf(acts, List.of(tray), Piece.OWN, Piece.CLIPS);
    }

    @Override
    public Optional<Brush.Paint> paint() {
        return Optional.of(paint);
    }

    private FitCache fitting() throws StepRow.Unclear {
        return new FitCache(fields.said(fitted), "", simulated.getText().strip(), 0, "", "");
    }

    private BakeCache baking() throws StepRow.Unclear {
        return new BakeCache(fields.said(baked), fields.said(clip), "", (int) fields.value(lead), zero.isSelected());
    }

    private RecomputeNormals computing() throws StepRow.Unclear {
        return new RecomputeNormals(fields.said(normals), fields.value(hard), false, CornerNormals.Weighting.BOTH);
    }

    private CacheToJoints jointing() throws StepRow.Unclear {
        return new CacheToJoints(fields.said(jointed), (int) fields.value(joints), 4, 0, hierarchy.getValue());
    }

    private ShrinkPieces shrinking() throws StepRow.Unclear {
        return new ShrinkPieces(
                fields.said(pieces),
                (int) fields.value(first),
                (int) fields.value(last),
                desk.playedClip().map(c -> c.name()).orElse(""),
                order.getValue(),
                0.5,
                1,
                Shrinking.Ease.LINEAR);
    }

    private StrandsToMesh building() throws StepRow.Unclear {
        return new StrandsToMesh(
                fields.said(strands),
                level.getValue().number(),
                fields.value(thickness),
                0.25,
                1,
                0,
                scalp.getText().strip(),
                false);
    }

    private List<String> withStrands() {
        return desk.isOpen()
                ? list.strands().stream()
                        .map(c -> desk.now()
                                .meshRef(desk.now().nodes().get(c.node()).mesh()))
                        .distinct()
                        .toList()
                : List.of();
    }

    /** The levels side by side, before anything is built. */
    private void count() {
        if (!desk.isOpen()) {
            counts.setText("");
            return;
        }
        int mesh = desk.now().findMesh(strands.getText().strip());
        int many = mesh < 0 ? 0 : Strands.of(desk.now().meshes().get(mesh)).size();
        long[] triangles = new long[Level.values().length];
        for (Level l : Level.values()) {
            triangles[l.ordinal()] = new StrandsToMesh("", l.number(), 1).foretold(many);
        }
        counts.setText(
                many == 0
                        ? Labels.of("caches.no.strands")
                        : Labels.of("caches.counts", many, triangles[0], triangles[1], triangles[2], triangles[3]));
    }

    @Override
    public String facts() {
        Asset asset = desk.now();
        return Labels.of(
                "caches.facts",
                CacheUse.all(asset).size(),
                list.strands().stream().mapToInt(Strands.Count::curves).sum());
    }

    @Override
    public Optional<Node> own() {
        return Optional.of(list);
    }

    @Override
    public void refresh() {
        list.refresh();
    }
}
