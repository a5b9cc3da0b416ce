package org.cleanmarrow.formats.report;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Units;
import org.cleanmarrow.drawing.Drawing;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.formats.delivery.Delivery;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.ledger.StepCodec;
import org.cleanmarrow.measure.Motion;
import org.cleanmarrow.measure.WorstMoment;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Image;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.picture.PictureHead;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.RestBox;
import org.cleanmarrow.query.Inventory;
import org.cleanmarrow.query.Painted;
import org.cleanmarrow.query.Shipping;
import org.cleanmarrow.text.Bytes;
import org.cleanmarrow.text.Message;
import org.cleanmarrow.work.Work;

/**
 * What is to be known of an asset, as one page for a browser or for paper: pictures from four sides and of the worst moment of every
 * clip, what is in it, what a target finds, what was done and what that moved, what was delivered and how it landed. The same
 * input gives the same bytes.
 *
 * @param asset     what is exported of it is shown
 * @param findings  what the target finds
 * @param why       why a finding is left, by finding; empty where nobody tried
 * @param steps     what was done, in order
 * @param delivered where it was delivered
 */
public record Report(
        Asset asset,
        Target target,
        List<Finding> findings,
        Map<Finding, Message> why,
        List<Replay.Done> steps,
        Optional<Delivery.Delivered> delivered) {
    private static final int WIDTH = 420;
    private static final int HEIGHT = 480;
    /** Rows of a table; what is more is counted. */
    private static final int MOST_ROWS = 500;
    /** Where one stands to see how a clip strains the skin. */
    private static final Drawing.Stand ASIDE = new Drawing.Stand(30, 12);

    /**
     * The page, UTF-8. Cost: two pictures a clip at most, and straining up to sixty frames of each.
     *
     * @throws java.util.concurrent.CancellationException where {@code work} was cancelled
     */
    public byte[] page(Work work) {
        Asset ships = Shipping.of(asset);
        Html html = new Html(ships.name());
        html.sentence(say("report.for", target.name(), ships.conventions().code()), "quiet");
        verdict(html);
        Drawing drawing = new Drawing(ships);
        sides(html, drawing, work);
        contents(html, ships);
        findings(html);
        clips(html, ships, drawing, work);
        parts(html, ships);
        paint(html, ships);
        steps(html);
        files(html);
        return html.page().getBytes(StandardCharsets.UTF_8);
    }

    private static String say(String key, Object... facts) {
        return Message.of(key, facts).toString();
    }

    /** The first words of some columns. */
    private static List<String> heads(String... keys) {
        List<String> out = new ArrayList<>();
        for (String key : keys) {
            out.add(key.isEmpty() ? "" : say("report." + key));
        }
        return out;
    }

    private void verdict(Html html) {
        long blockers =
                findings.stream().filter(f -> f.severity() == Severity.BLOCKER).count();
        boolean sound = delivered.map(Delivery.Delivered::sound).orElse(true);
        String text = say("report.verdict", blockers, findings.size());
        html.sentence(text, blockers == 0 && sound ? "sound" : "blocker");
        delivered.ifPresent(d -> html.sentence(
                d.sound() ? say("report.landed", length(d.landing().largestMetres())) : say("report.differs"),
                d.sound() ? "sound" : "blocker"));
    }

    private static String length(double metres) {
        return Double.isFinite(metres) ? Units.sayIn(metres, "") : say("length.infinite");
    }

    private static void sides(Html html, Drawing drawing, Work work) {
        if (drawing.places().isEmpty()) {
            return;
        }
        Pose rest = drawing.rig().rest();
        List<Drawing.Stand> stands = new ArrayList<>();
        for (int side = 0; side < 4; side++) {
            stands.add(new Drawing.Stand(90.0 * side, 0));
        }
        Drawing.Frame frame = drawing.frame(List.of(rest), stands);
        html.heading(say("report.sides"));
        html.beginPictures();
        String[] names = {"report.side.front", "report.side.left", "report.side.back", "report.side.right"};
        for (int side = 0; side < names.length; side++) {
            work.stopIfCancelled();
            Drawing.Picture picture = drawing.picture(rest, stands.get(side), frame, WIDTH, HEIGHT, Map.of());
            html.picture(picture.pixels(), say(names[side], length(picture.barMetres())));
        }
        html.endPictures();
    }

    private void contents(Html html, Asset ships) {
        Box box = RestBox.of(ships);
        Conventions c = ships.conventions();
        String size = box.isEmpty()
                ? "–"
                : length(box.size().x * c.metresPerUnit()) + " × " + length(box.size().y * c.metresPerUnit()) + " × "
                        + length(box.size().z * c.metresPerUnit());
        List<Inventory.Item> all = Inventory.of(ships);
        Painted painted = Painted.of(ships);
        long joints = all.stream().filter(i -> i.kind() == Inventory.Kind.JOINT).count();
        html.heading(say("report.contents"));
        html.table(
                heads("size", "vertices", "triangles", "joints", "materials", "pictures", "clips"),
                List.of(List.of(
                        size,
                        all.stream()
                                .filter(Report::isPart)
                                .mapToLong(Inventory.Item::vertices)
                                .sum(),
                        all.stream()
                                .filter(Report::isPart)
                                .mapToLong(Inventory.Item::triangles)
                                .sum(),
                        joints,
                        (long) painted.materials().cardinality(),
                        (long) painted.images().cardinality(),
                        (long) ships.clips().size())));
    }

    private static boolean isPart(Inventory.Item item) {
        return item.kind() == Inventory.Kind.PART;
    }

    /** A table, cut off where it would be endless. */
    private static void table(Html html, List<String> heads, List<List<Object>> rows) {
        html.table(heads, rows.subList(0, Math.min(MOST_ROWS, rows.size())));
        if (rows.size() > MOST_ROWS) {
            html.sentence(say("report.more", rows.size() - MOST_ROWS), "quiet");
        }
    }

    private void findings(Html html) {
        html.heading(say("report.findings"));
        if (findings.isEmpty()) {
            html.sentence(say("report.none"), "sound");
            return;
        }
        List<List<Object>> rows = new ArrayList<>();
        findings.stream().sorted(Comparator.comparing(Finding::severity)).forEach(f -> {
            List<Object> row = new ArrayList<>(List.of(
                    new Html.Marked(f.severity().code(), f.severity().code()),
                    f.check(),
                    f.message().toString()));
            Message reason = why.get(f);
            if (!why.isEmpty()) {
                row.add(reason == null ? "" : reason.toString());
            }
            rows.add(row);
        });
        List<String> heads = new ArrayList<>(heads("severity", "check", "what"));
        if (!why.isEmpty()) {
            heads.addAll(heads("left"));
        }
        table(html, heads, rows);
    }

    private static void clips(Html html, Asset ships, Drawing drawing, Work work) {
        if (ships.clips().isEmpty()) {
            return;
        }
        html.heading(say("report.clips.heading"));
        List<List<Object>> rows = new ArrayList<>();
        List<Pose> poses = new ArrayList<>();
        List<Optional<WorstMoment>> worst = new ArrayList<>();
        for (Clip clip : ships.clips()) {
            Optional<WorstMoment> moment = WorstMoment.of(ships, clip, work);
            worst.add(moment);
            poses.add(drawing.rig().at(clip, moment.map(WorstMoment::seconds).orElse(clip.start())));
            rows.add(List.of(
                    clip.name(),
                    say("report.range", clip.firstFrame(), clip.lastFrame()),
                    plain(clip.rate()),
                    String.format(Locale.ROOT, "%.2f s", clip.seconds()),
                    clip.loop() ? say("report.loop") : "",
                    clip.keyCount(),
                    moment.map(m -> percent(m.change())).orElse("–")));
        }
        table(html, heads("clip", "frames", "rate", "length", "", "keys", "change"), rows);
        html.sentence(say("report.change.why", percent(Drawing.MOST_STRAIN)), "quiet");
        html.beginPictures();
        for (int c = 0; c < worst.size(); c++) {
            if (worst.get(c).isPresent()) {
                work.stopIfCancelled();
                WorstMoment moment = worst.get(c).get();
                Map<MeshPlace, int[]> colours = moment.strain().entrySet().stream()
                        .collect(Collectors.toMap(Map.Entry::getKey, e -> Drawing.ofStrain(e.getValue())));
                Drawing.Frame frame = drawing.frame(List.of(poses.get(c)), List.of(ASIDE));
                Drawing.Picture picture = drawing.picture(poses.get(c), ASIDE, frame, WIDTH, HEIGHT, colours);
                Clip clip = ships.clips().get(c);
                html.picture(
                        picture.pixels(),
                        say(
                                "report.worst",
                                clip.name(),
                                Math.round(moment.seconds() * clip.rate()),
                                percent(moment.change())));
            }
        }
        html.endPictures();
    }

    private static String plain(double number) {
        return number == Math.rint(number)
                ? String.format(Locale.ROOT, "%.0f", number)
                : String.format(Locale.ROOT, "%.3f", number);
    }

    private static String percent(double share) {
        return String.format(Locale.ROOT, "%.0f %%", 100 * share);
    }

    private static void parts(Html html, Asset ships) {
        List<List<Object>> rows = new ArrayList<>();
        for (Inventory.Item item : Inventory.of(ships)) {
            if (isPart(item)) {
                rows.add(List.of(item.ref(), (long) item.triangles(), (long) item.vertices(), (long) item.movers()));
            }
        }
        if (!rows.isEmpty()) {
            html.heading(say("report.parts"));
            table(html, heads("part", "triangles", "vertices", "movers"), rows);
        }
    }

    private static void paint(Html html, Asset ships) {
        List<List<Object>> materials = new ArrayList<>();
        for (Material material : ships.materials()) {
            String shown = material.textures().stream()
                    .map(u -> u.slot().substring(u.slot().lastIndexOf('/') + 1) + ": "
                            + picture(ships, ships.textures().get(u.texture()).image()))
                    .collect(Collectors.joining(", "));
            materials.add(List.of(material.name(), shown));
        }
        if (!materials.isEmpty()) {
            html.heading(say("report.paint"));
            table(html, heads("material", "shows"), materials);
        }
        List<List<Object>> pictures = new ArrayList<>();
        for (int i = 0; i < ships.images().size(); i++) {
            Image image = ships.images().get(i);
            byte[] bytes = image.bytes();
            Optional<PictureHead> head = bytes == null ? Optional.empty() : PictureHead.of(bytes);
            pictures.add(List.of(
                    Painted.name(ships, i),
                    head.map(h -> h.width() + " × " + h.height()).orElse("–"),
                    head.map(PictureHead::mimeType).orElse(image.mimeType()),
                    bytes == null ? new Html.Marked(say("report.missing"), "blocker") : Bytes.say(bytes.length)));
        }
        if (!pictures.isEmpty()) {
            html.sentence("", "quiet");
            table(html, heads("picture", "pixels", "kind", "bytes"), pictures);
        }
    }

    private static String picture(Asset ships, int image) {
        return image < 0 ? "–" : Painted.name(ships, image);
    }

    private void steps(Html html) {
        if (steps.isEmpty()) {
            return;
        }
        html.heading(say("report.steps"));
        List<List<Object>> rows = new ArrayList<>();
        for (Replay.Done done : steps) {
            String counts = done.outcome()
                    .map(o -> o.counts().entrySet().stream()
                            .map(e -> e.getValue() + " " + e.getKey())
                            .collect(Collectors.joining(", ")))
                    .orElse(done.reason());
            rows.add(List.of(
                    (long) rows.size() + 1,
                    StepCodec.info(done.step().getClass()).name(),
                    counts,
                    done.motion().map(Motion::largestMetres).map(Report::length).orElse("–")));
        }
        table(html, heads("number", "step", "did", "moved"), rows);
    }

    private void files(Html html) {
        delivered.ifPresent(d -> {
            html.heading(say("report.files"));
            List<List<Object>> rows = new ArrayList<>();
            d.bytes().forEach((file, bytes) -> rows.add(List.of(String.valueOf(file.getFileName()), Bytes.say(bytes))));
            table(html, heads("file", "bytes"), rows);
            d.notes().forEach(n -> html.sentence(n, "quiet"));
            d.differences().forEach(n -> html.sentence(n, "blocker"));
        });
    }
}
