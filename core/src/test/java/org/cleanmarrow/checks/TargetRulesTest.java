package org.cleanmarrow.checks;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.cleanmarrow.examination.Budget;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Rules;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.kit.StickFigure;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Image;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Texture;
import org.cleanmarrow.model.TextureUse;
import org.cleanmarrow.picture.PictureHead;
import org.cleanmarrow.picture.Png;
import org.cleanmarrow.work.Work;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** What a target asks for beyond conventions: held against an asset that just fits, and one that just does not. */
public class TargetRulesTest {
    private static final Target TARGET = Target.named("y-up-m-rh").orElseThrow();

    private static List<Finding> of(Asset asset, Target target, String check) {
        return Checks.run(asset, target, Work.QUIET).stream()
                .filter(f -> f.check().equals(check))
                .toList();
    }

    private static Rules rules(
            List<Rules.Names> names, List<Rules.Joint> joints, Optional<String> materials, List<Double> rates) {
        return new Rules(names, joints, materials, Optional.empty(), rates, Map.of());
    }

    /** A random asset with every part painted with a picture of its own. */
    private static Asset painted(byte[] picture) {
        Asset asset = RandomAssets.of(6);
        List<Material> materials = new ArrayList<>();
        List<Texture> textures = new ArrayList<>();
        List<Image> images = new ArrayList<>();
        for (int m = 0; m < asset.meshes().size(); m++) {
            int number = m;
            materials.add(new Material("paint_" + m, new float[] {1, 1, 1, 1}, m, false, Passthrough.NONE));
            textures.add(new Texture("", m, Passthrough.NONE));
            images.add(new Image("picture_" + m, "image/png", "", picture, Passthrough.NONE));
            asset = asset.withMesh(
                    m,
                    asset.meshes()
                            .get(m)
                            .withPrimitives(asset.meshes().get(m).primitives().stream()
                                    .map(p -> p.withMaterial(number))
                                    .toList()));
        }
        return asset.withPictures(materials, textures, images);
    }

    private static byte[] plain(int width, int height) {
        int[] rgba = new int[width * height];
        java.util.Arrays.fill(rgba, 0xC04020FF);
        return Png.encode(width, height, rgba);
    }

    @DataProvider
    public Object[][] budgets() {
        Asset asset = painted(plain(16, 8));
        long triangles = 0;
        long vertices = 0;
        long largest = 0;
        int parts = 0;
        for (Node node : asset.nodes()) {
            if (node.mesh() >= 0) {
                long own = asset.meshes().get(node.mesh()).triangleCount();
                triangles += own;
                largest = Math.max(largest, own);
                vertices += asset.meshes().get(node.mesh()).vertexCount();
                parts++;
            }
        }
        double longest = asset.clips().stream().mapToDouble(Clip::seconds).max().orElseThrow();
        return new Object[][] {
            {asset, Budget.TRIANGLES, triangles, "triangle-budget"},
            {asset, Budget.PART_TRIANGLES, largest, "triangle-budget"},
            {asset, Budget.VERTICES, vertices, "vertex-budget"},
            {asset, Budget.MATERIALS, parts, "material-budget"},
            {asset, Budget.TEXTURES, parts, "texture-budget"},
            {asset, Budget.CLIP_SECONDS, longest, "clip-length"},
        };
    }

    @Test(dataProvider = "budgets")
    public void whatJustFitsIsNoFindingAndWhatIsOverIsOne(Asset asset, Budget budget, double limit, String check) {
        assertThat(of(asset, TARGET.with(budget, limit), check)).isEmpty();
        List<Finding> over = of(asset, TARGET.with(budget, limit * 0.99 - (budget.whole() ? 1 : 0)), check);
        assertThat(over).isNotEmpty().allMatch(f -> f.severity() == Severity.BLOCKER);
    }

    @Test
    public void aLargePictureIsShrunkToWhatTheTargetTakes() {
        Asset asset = painted(plain(64, 32));
        Target less = TARGET.with(Budget.TEXTURE_SIDE, 16);
        List<Finding> large = of(asset, less, "texture-size");
        assertThat(large).hasSize(asset.images().size());
        assertThat(large.getFirst().message().toString()).contains("64 by 32").contains("16");
        Asset fitted = Replay.one(asset, large.getFirst().fix().orElseThrow(), false, Work.QUIET)
                .asset();
        byte[] shrunk = fitted.images().getFirst().bytes();
        assertThat(shrunk).isNotNull();
        assertThat(PictureHead.of(shrunk)).contains(new PictureHead("image/png", 16, 8));
        assertThat(of(fitted, less, "texture-size")).hasSize(large.size() - 1);
        assertThat(of(painted(plain(24, 8)), TARGET, "texture-size"))
                .isNotEmpty()
                .allMatch(f -> f.severity() == Severity.NOTE && f.fix().isEmpty());
    }

    private static Asset showing(byte[] picture, String... slots) {
        Asset asset = painted(picture);
        List<TextureUse> uses = new ArrayList<>();
        for (String slot : slots) {
            uses.add(new TextureUse(slot, 0, Passthrough.NONE));
        }
        List<Material> materials = new ArrayList<>(asset.materials());
        materials.set(0, new Material("paint", new float[] {1, 1, 1, 1}, uses, false, Passthrough.NONE));
        return asset.withPictures(materials, asset.textures(), asset.images());
    }

    private static byte[] directions() {
        int[] rgba = new int[32 * 32];
        for (int i = 0; i < rgba.length; i++) {
            double x = (i % 32 - 15.5) / 40;
            double y = (i / 32 - 15.5) / 40;
            double z = Math.sqrt(1 - x * x - y * y);
            rgba[i] = byteOf(x) << 24 | byteOf(y) << 16 | byteOf(z) << 8 | 0xFF;
        }
        return Png.encode(32, 32, rgba);
    }

    private static int byteOf(double part) {
        return (int) Math.round((part + 1) / 2 * 255);
    }

    @Test
    public void picturesThatAreMissingOrShownAsWhatTheyAreNotAreNamed() {
        String colour = TextureUse.BASE_COLOUR;
        assertThat(said(showing(plain(8, 8), colour))).isEmpty();
        assertThat(said(showing(directions(), TextureUse.NORMAL))).isEmpty();
        assertThat(said(showing(directions(), colour))).contains("looks like a map of normals");
        assertThat(said(showing(plain(8, 8), TextureUse.NORMAL))).contains("does not look like one");
        assertThat(said(showing(plain(8, 8), colour, "occlusionTexture"))).contains("as a colour and as data");
        assertThat(said(showing(new byte[] {1, 2, 3}, colour))).contains("neither PNG");
        Asset asset = showing(plain(8, 8), colour);
        Image first = asset.images().getFirst();
        List<Image> gone = new ArrayList<>(asset.images());
        gone.set(0, new Image("", "", "skin.png", null, first.carried()));
        assertThat(said(asset.withPictures(asset.materials(), asset.textures(), gone)))
                .contains("skin.png is not there");
    }

    /** What is said of the first picture. */
    private static String said(Asset asset) {
        return of(asset, TARGET, "pictures").stream()
                .map(f -> f.message().toString())
                .filter(m -> m.contains("picture_0") || m.contains("skin.png"))
                .findFirst()
                .orElse("");
    }

    @Test
    public void whatNothingUsesIsTakenOutAndTheRestStays() {
        Asset asset = painted(plain(8, 8));
        List<Material> materials = new ArrayList<>(asset.materials());
        materials.addFirst(new Material("spare", new float[] {1, 0, 0, 1}, -1, false, Passthrough.NONE));
        List<Image> images = new ArrayList<>(asset.images());
        images.add(new Image("spare", "image/png", "", plain(4, 4), Passthrough.NONE));
        Asset more = asset.withPictures(asset.materials(), asset.textures(), images);
        assertThat(of(asset, TARGET, "unused")).isEmpty();
        Finding finding = of(more, TARGET, "unused").getFirst();
        assertThat(finding.message().toString()).contains("1 picture").contains("no material");
        assertThat(Replay.one(more, finding.fix().orElseThrow(), false, Work.QUIET)
                        .asset())
                .usingRecursiveComparison()
                .isEqualTo(asset);
    }

    @Test
    public void namesJointsMaterialsAndRatesAreHeldAgainstTheRules() {
        Asset figure = StickFigure.of(1.8);
        List<String> joints = new ArrayList<>();
        boolean[] flags = figure.jointFlags();
        for (int n = 0; n < flags.length; n++) {
            if (flags[n]) {
                joints.add(figure.nodes().get(n).name());
            }
        }
        int[] parents = figure.parents();
        String child = joints.getLast();
        String parent = figure.nodes().get(parents[figure.findNode(child)]).name();
        List<Rules.Names> all = List.of(new Rules.Names(Rules.Kind.JOINT, "*"));
        List<Rules.Joint> there = List.of(new Rules.Joint(child, parent));
        Target pleased = TARGET.with(rules(all, there, Optional.of("*"), List.of()));
        assertThat(Checks.run(figure, pleased, Work.QUIET))
                .noneMatch(f -> List.of("names-asked", "joints-needed", "materials-allowed", "clip-rate")
                        .contains(f.check()));

        Target asks = TARGET.with(rules(
                List.of(new Rules.Names(Rules.Kind.JOINT, child)),
                List.of(new Rules.Joint("tail", ""), new Rules.Joint(child, "tail")),
                Optional.empty(),
                List.of()));
        assertThat(of(figure, asks, "names-asked"))
                .singleElement()
                .satisfies(f -> assertThat(f.count()).isEqualTo(joints.size() - 1));
        assertThat(of(figure, asks, "joints-needed"))
                .extracting(f -> f.message().toString())
                .satisfiesExactly(
                        missing -> assertThat(missing).contains("not there").contains("tail"),
                        elsewhere -> assertThat(elsewhere).contains(child + " hangs on " + parent));
        Asset painted = painted(plain(8, 8));
        assertThat(of(
                        painted,
                        TARGET.with(rules(List.of(), List.of(), Optional.of("paint_0"), List.of())),
                        "materials-allowed"))
                .singleElement()
                .satisfies(f -> assertThat(f.message().toString()).contains("paint_1"));
    }

    @Test
    public void aClipAtAnotherRateIsBroughtToTheNearest() {
        Asset asset = RandomAssets.of(6);
        double rate = asset.clips().getFirst().rate();
        Target same = TARGET.with(rules(List.of(), List.of(), Optional.empty(), List.of(rate)));
        Target other = TARGET.with(rules(List.of(), List.of(), Optional.empty(), List.of(rate * 8, rate * 2)));
        assertThat(of(asset, same, "clip-rate")).noneMatch(f -> f.place().clip() == 0);
        Finding finding = of(asset, other, "clip-rate").getFirst();
        Asset mended = Replay.one(asset, finding.fix().orElseThrow(), false, Work.QUIET)
                .asset();
        assertThat(mended.clips().getFirst().rate()).isEqualTo(rate * 2);
        assertThat(of(mended, other, "clip-rate")).noneMatch(f -> f.place().clip() == 0);
    }

    @Test
    public void extensionsThatTheTargetDoesNotNameAreListed() {
        Asset asset = showing(plain(8, 8), "extensions/KHR_materials_sheen/sheenColorTexture");
        Rules none = new Rules(List.of(), List.of(), Optional.empty(), Optional.of(List.of()), List.of(), Map.of());
        Rules sheen = new Rules(
                List.of(),
                List.of(),
                Optional.empty(),
                Optional.of(List.of("KHR_materials_sheen")),
                List.of(),
                Map.of());
        assertThat(of(asset, TARGET.with(none), "extensions-allowed"))
                .singleElement()
                .satisfies(f -> assertThat(f.message().toString()).contains("KHR_materials_sheen"));
        assertThat(of(asset, TARGET.with(sheen), "extensions-allowed")).isEmpty();
    }

    @Test
    public void howGraveAFindingIsAndWhetherItIsLookedForIsTheTargetsWord() {
        Asset asset = painted(plain(24, 8));
        assertThat(of(asset, TARGET, "texture-size").getFirst().severity()).isEqualTo(Severity.NOTE);
        Rules graver = gravity(Map.of("texture-size", Optional.of(Severity.BLOCKER)));
        assertThat(of(asset, TARGET.with(graver), "texture-size").getFirst().severity())
                .isEqualTo(Severity.BLOCKER);
        assertThat(of(asset, TARGET.with(gravity(Map.of("texture-size", Optional.empty()))), "texture-size"))
                .isEmpty();
    }

    private static Rules gravity(Map<String, Optional<Severity>> gravity) {
        return new Rules(List.of(), List.of(), Optional.empty(), Optional.empty(), List.of(), gravity);
    }
}
