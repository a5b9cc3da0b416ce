package org.cleanmarrow.ledger;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.InputStream;
import java.lang.ref.SoftReference;
import java.lang.reflect.RecordComponent;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import org.cleanmarrow.caches.Shrinking;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.RigidBody;
import org.cleanmarrow.collision.ShapeNumbers;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.json.BadJson;
import org.cleanmarrow.json.ParameterType;
import org.cleanmarrow.json.ParameterTypes;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.reference.MeshOutline;
import org.cleanmarrow.reference.SkeletonOutline;
import org.cleanmarrow.steps.Steps;
import org.cleanmarrow.steps.caches.BakeCache;
import org.cleanmarrow.steps.caches.CacheToJoints;
import org.cleanmarrow.steps.caches.FitCache;
import org.cleanmarrow.steps.caches.OrderCache;
import org.cleanmarrow.steps.caches.PaintStray;
import org.cleanmarrow.steps.caches.RecomputeNormals;
import org.cleanmarrow.steps.caches.SetCloth;
import org.cleanmarrow.steps.caches.SetStray;
import org.cleanmarrow.steps.caches.Shatter;
import org.cleanmarrow.steps.caches.ShrinkPieces;
import org.cleanmarrow.steps.caches.SimulateCloth;
import org.cleanmarrow.steps.caches.StrandsToMesh;
import org.cleanmarrow.steps.collision.FitShapes;
import org.cleanmarrow.steps.collision.JoinBodies;
import org.cleanmarrow.steps.collision.MirrorShapes;
import org.cleanmarrow.steps.collision.PlaceShape;
import org.cleanmarrow.steps.collision.RemoveCollision;
import org.cleanmarrow.steps.collision.SetBody;
import org.cleanmarrow.steps.collision.SetShapes;
import org.cleanmarrow.steps.collision.ShapesApart;
import org.cleanmarrow.steps.collision.ShapesFromParts;
import org.cleanmarrow.steps.collision.ShapesToParts;
import org.cleanmarrow.steps.collision.SimulateBodies;
import org.cleanmarrow.steps.collision.StandIn;
import org.cleanmarrow.steps.intake.Combine;
import org.cleanmarrow.steps.intake.FitTextures;
import org.cleanmarrow.steps.intake.LegalNames;
import org.cleanmarrow.steps.intake.LodDistances;
import org.cleanmarrow.steps.intake.MarkForExport;
import org.cleanmarrow.steps.intake.MatchNames;
import org.cleanmarrow.steps.intake.MergeMaterials;
import org.cleanmarrow.steps.intake.OrderMaterials;
import org.cleanmarrow.steps.intake.OrderVertices;
import org.cleanmarrow.steps.intake.OwnMaterial;
import org.cleanmarrow.steps.intake.PaletteTexture;
import org.cleanmarrow.steps.intake.RelaxUvs;
import org.cleanmarrow.steps.intake.RemoveUnused;
import org.cleanmarrow.steps.intake.Rename;
import org.cleanmarrow.steps.intake.RenameMany;
import org.cleanmarrow.steps.intake.RenamePattern;
import org.cleanmarrow.steps.intake.ReplacePrefix;
import org.cleanmarrow.steps.intake.ShareDuplicates;
import org.cleanmarrow.steps.intake.Simplify;
import org.cleanmarrow.steps.intake.SweepLods;
import org.cleanmarrow.steps.intake.Triangulate;
import org.cleanmarrow.steps.intake.UnitNormals;
import org.cleanmarrow.steps.motion.Bake;
import org.cleanmarrow.steps.motion.BindChannels;
import org.cleanmarrow.steps.motion.BranchClips;
import org.cleanmarrow.steps.motion.CloseLoop;
import org.cleanmarrow.steps.motion.DuplicateClip;
import org.cleanmarrow.steps.motion.FitTranslations;
import org.cleanmarrow.steps.motion.HideByScale;
import org.cleanmarrow.steps.motion.HoldClip;
import org.cleanmarrow.steps.motion.JoinClips;
import org.cleanmarrow.steps.motion.LeadIn;
import org.cleanmarrow.steps.motion.MaskClip;
import org.cleanmarrow.steps.motion.MergeClips;
import org.cleanmarrow.steps.motion.ReduceKeys;
import org.cleanmarrow.steps.motion.RemoveKeys;
import org.cleanmarrow.steps.motion.RemoveLeadIn;
import org.cleanmarrow.steps.motion.RemoveLostChannels;
import org.cleanmarrow.steps.motion.Resample;
import org.cleanmarrow.steps.motion.Retarget;
import org.cleanmarrow.steps.motion.Retime;
import org.cleanmarrow.steps.motion.ReverseClip;
import org.cleanmarrow.steps.motion.RotationOnly;
import org.cleanmarrow.steps.motion.SetLoop;
import org.cleanmarrow.steps.motion.ShiftClip;
import org.cleanmarrow.steps.motion.SmoothClip;
import org.cleanmarrow.steps.motion.SplitClip;
import org.cleanmarrow.steps.motion.TagClips;
import org.cleanmarrow.steps.motion.TrimClip;
import org.cleanmarrow.steps.scale.Convert;
import org.cleanmarrow.steps.scale.CorrectUnit;
import org.cleanmarrow.steps.scale.DeclareConventions;
import org.cleanmarrow.steps.scale.DropToGround;
import org.cleanmarrow.steps.scale.FaceForward;
import org.cleanmarrow.steps.scale.FreezeNodes;
import org.cleanmarrow.steps.scale.MirrorPart;
import org.cleanmarrow.steps.scale.ScaleClip;
import org.cleanmarrow.steps.scale.SetPivot;
import org.cleanmarrow.steps.scale.TurnAndFold;
import org.cleanmarrow.steps.skeleton.AddRoot;
import org.cleanmarrow.steps.skeleton.InsertJoint;
import org.cleanmarrow.steps.skeleton.MatchSkeleton;
import org.cleanmarrow.steps.skeleton.MergeJoint;
import org.cleanmarrow.steps.skeleton.MirrorLimb;
import org.cleanmarrow.steps.skeleton.OneSkeleton;
import org.cleanmarrow.steps.skeleton.OrientJoints;
import org.cleanmarrow.steps.skeleton.PivotToHinge;
import org.cleanmarrow.steps.skeleton.Rebind;
import org.cleanmarrow.steps.skeleton.Reparent;
import org.cleanmarrow.steps.skeleton.RestFrom;
import org.cleanmarrow.steps.skeleton.RigParts;
import org.cleanmarrow.steps.skeleton.RootMotion;
import org.cleanmarrow.steps.skeleton.SetRoles;
import org.cleanmarrow.steps.skeleton.SetSwing;
import org.cleanmarrow.steps.skeleton.SplitJoint;
import org.cleanmarrow.steps.skeleton.StaticTwin;
import org.cleanmarrow.steps.skeleton.TPose;
import org.cleanmarrow.steps.skeleton.TrimEnds;
import org.cleanmarrow.steps.skeleton.TrimIdle;
import org.cleanmarrow.steps.skeleton.UniqueJointNames;
import org.cleanmarrow.steps.skin.AdjustWeight;
import org.cleanmarrow.steps.skin.AssignUnweighted;
import org.cleanmarrow.steps.skin.AverageAcross;
import org.cleanmarrow.steps.skin.BindNear;
import org.cleanmarrow.steps.skin.BindVolume;
import org.cleanmarrow.steps.skin.CleanSides;
import org.cleanmarrow.steps.skin.CopyWeights;
import org.cleanmarrow.steps.skin.Cover;
import org.cleanmarrow.steps.skin.Dress;
import org.cleanmarrow.steps.skin.LimitInfluences;
import org.cleanmarrow.steps.skin.MakeRigid;
import org.cleanmarrow.steps.skin.MarkRegions;
import org.cleanmarrow.steps.skin.MendPokeThrough;
import org.cleanmarrow.steps.skin.MirrorWeights;
import org.cleanmarrow.steps.skin.NormaliseWeights;
import org.cleanmarrow.steps.skin.PaintWeights;
import org.cleanmarrow.steps.skin.QuantiseWeights;
import org.cleanmarrow.steps.skin.RemoveInfluence;
import org.cleanmarrow.steps.skin.SetRegion;
import org.cleanmarrow.steps.skin.SetWeight;
import org.cleanmarrow.steps.skin.SharpenWeights;
import org.cleanmarrow.steps.skin.SmoothWeights;
import org.cleanmarrow.steps.skin.TransferWeights;
import org.cleanmarrow.steps.skin.WeldWeights;
import org.cleanmarrow.weights.Stroke;
import org.cleanmarrow.weights.VolumeBind;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.VertexAmounts;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;
import org.joml.Quaterniond;
import org.joml.Vector3d;
import org.testng.annotations.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.DoubleNode;
import tools.jackson.databind.node.IntNode;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

public class LedgerTest {
    private static final Conventions TARGET = Conventions.parse("z-up-cm-lh").orElseThrow();

    private static VertexSet chosen(Asset asset) {
        BitSet set = new BitSet();
        set.set(3, 9);
        set.set(20);
        return VertexSet.chosen(asset.meshes().getFirst(), set);
    }

    private static final Map<String, String> ROLES =
            Map.of("leftUpperArm", "knee", "rightUpperArm", "j_4", "leftLowerArm", "j_5", "rightLowerArm", "j_6");

    static List<Step> oneOfEach() {
        VertexSet set = chosen(RandomAssets.of(8));
        return List.of(
                new DeclareConventions(Conventions.GLTF),
                new OrderVertices(
                        "figure", MeshOutline.of(RandomAssets.of(8).meshes().getFirst())),
                new Convert(TARGET, true),
                new CorrectUnit(0.5),
                new UniqueJointNames(),
                new FreezeNodes(),
                new FaceForward(),
                new Rename(Rename.Kind.NODE, "joint_1", "knee"),
                new AddRoot("root"),
                new RootMotion("step", RootMotion.Way.TO_ROOT, true, false, 0),
                new TrimEnds(),
                new SetWeight("figure", "knee", set, 0.25),
                new RemoveInfluence("figure", "joint_2", set, Optional.of("knee")),
                new LimitInfluences("", 4, 0.01),
                new NormaliseWeights("figure"),
                new AssignUnweighted("", Optional.empty()),
                new RemoveLostChannels(),
                new RemoveKeys("cubic", "figure", RemoveKeys.What.ALL, 3, 5),
                new ScaleClip("linear", 1.5),
                new TrimClip("step", 2, 8, true),
                new ShiftClip("step", 4),
                new SplitClip("step", "open 4..6, close 8..10", true),
                new Resample("cubic", 30),
                new LeadIn("cubic", 12),
                new RemoveLeadIn("cubic", 12),
                new FitTranslations("step", "joint_2"),
                new RotationOnly("cubic", "joint_2"),
                new Bake("open"),
                new ReduceKeys("linear", 0.5, ReduceKeys.Between.CUBIC),
                new CloseLoop("linear", 4),
                new SetLoop("linear", false),
                new TagClips("linear", "walk, base"),
                new Retime("linear", 2),
                new ReverseClip("cubic"),
                new HoldClip("cubic", 5, HoldClip.Where.START),
                new DuplicateClip("linear", "twin"),
                new MaskClip("twin", "joint_2", false),
                new BranchClips("*", "knee, joint_3, root", true),
                new MergeClips("linear, twin", "both", true),
                new JoinClips("both, cubic", "long", 1, true),
                new HideByScale("tool", "long", "1..3"),
                new Retarget("long", true),
                new BindChannels(Map.of("old", "joint_3"), "take:"),
                new SmoothClip("long", 6),
                new TurnAndFold(TurnAndFold.About.Z, 30, Optional.empty()),
                new SetPivot("crate", SetPivot.To.BOX, "bottom left", 0, 0, 0),
                new DropToGround(true, Optional.empty()),
                new MirrorPart("crate", MirrorPart.Across.SIDE),
                new MarkForExport(MarkForExport.Kind.PART, "crate_mir*", Optional.empty(), false),
                new RenamePattern(Rename.Kind.NODE, "crate", "crate_LOD1"),
                new RenameMany(Rename.Kind.NODE, Map.of("crate_mirrored", "crate_LOD0")),
                new SweepLods(0),
                new LodDistances(LodDistances.Measure.SCREEN, "1 0.5"),
                new Simplify("figure", 10, 1, 0.1),
                new OwnMaterial("crate", VertexSet.ALL, "oak", false),
                new OwnMaterial("crate", VertexSet.ALL, "wood", false),
                new OwnMaterial("figure", VertexSet.ALL, "cloth", true),
                new OrderMaterials(List.of("cloth", "wood", "gone")),
                new MergeMaterials(List.of("oak"), "wood"),
                new PaletteTexture("*", "palette"),
                new Combine("crate_LOD*", "crates"),
                new Rebind(),
                new TransferWeights("figure", "crates", VertexSet.ALL, 1e6, 180, true, "*", 8),
                new Cover("figure", "crates", 0, Cover.As.ATTRIBUTE, 0),
                new MendPokeThrough("figure", "crates", MendPokeThrough.Way.BOTH, 5, 0),
                new OneSkeleton(),
                new MakeRigid("crates", VertexSet.ALL, "*", ""),
                new Dress("figure", "crates"),
                new MarkRegions("figure"),
                new SetRegion("figure", VertexSet.ALL, "torso"),
                new FitTextures("palette", 4, true),
                new RemoveUnused(),
                new ShareDuplicates(),
                new Triangulate(),
                new UnitNormals(),
                new ReplacePrefix("joint_", "j_"),
                new MatchNames(MatchNames.Keep.NODE),
                new LegalNames(63),
                new TrimIdle(""),
                new Reparent("j_3", Optional.of("root"), true),
                new MergeJoint("j_3"),
                new SplitJoint("j_4", 3, true),
                new StaticTwin("figure", "statue"),
                new RigParts("statue"),
                new OrientJoints("*", OrientJoints.Along.X),
                new SetRoles(ROLES),
                new TPose(30),
                new RestFrom(Optional.of("linear"), 3),
                new Rebind(),
                new MatchSkeleton(outline(), false, true, false),
                new InsertJoint("knee", "above_knee", 0.5),
                new Rename(Rename.Kind.NODE, "j_11", "left_j_11"),
                new MirrorLimb("left_j_11", false),
                new SetSwing("knee", SetSwing.Axis.Y, -10, 30),
                new PivotToHinge("knee", "figure", VertexSet.numbers(new BitSet())),
                new AdjustWeight("figure", "knee", set, AdjustWeight.How.ADD, 0.1, "root"),
                new SmoothWeights("figure", set, 0.5, 2, ""),
                new SharpenWeights("figure", set, SharpenWeights.How.HARD, ""),
                new AverageAcross("figure", set, 0),
                new CopyWeights("figure", set, set, 4),
                new WeldWeights(8),
                new MirrorWeights("figure", MirrorWeights.From.RIGHT, VertexSet.ALL, 1, ""),
                new CleanSides("figure", VertexSet.ALL, 20, ""),
                new QuantiseWeights("", 16),
                new BindVolume("figure", VertexSet.ALL, "*", "", VolumeBind.How.HEAT, 0.5, 4, false),
                new BindNear("figure", VertexSet.ALL, "*", "", 0, 4),
                new PaintStray(
                        "figure",
                        0.5,
                        new VertexAmounts(set, new float[set.vertices().cardinality()])),
                new PaintWeights(
                        "figure",
                        "knee",
                        Stroke.Mode.ADD,
                        new VertexAmounts(set, new float[set.vertices().cardinality()]),
                        1,
                        "",
                        false),
                new FitShapes(),
                new StandIn("crates", StandIn.Kind.DRAWN),
                new ShapesApart(ShapesApart.By.IGNORE),
                new SetBody("crates", RigidBody.Kind.FREE, 12),
                new JoinBodies("*"),
                new RecomputeNormals("figure", 40),
                new BakeCache("crates", "linear"),
                new OrderCache("crates", "linear_cache"),
                new FitCache("crates", "", "linear", 1, "x,y,z", "0"),
                new ShrinkPieces("crates", 1, 3, "linear_cache", Shrinking.Order.HEIGHT, 0.5, 1, Shrinking.Ease.SMOOTH),
                new CacheToJoints("crates", 3),
                new StrandsToMesh("strokes", 2, 4),
                new SetCloth("crates"),
                new SetStray("crates", VertexSet.ALL, 0.25, 2),
                new SimulateCloth("crates", "linear", "", 1),
                new SimulateBodies("", 0.1, "let_go"),
                new PlaceShape(
                        "crates",
                        "stand",
                        PlaceShape.Kind.BOX,
                        new ShapeNumbers(new Vector3d(0, 1, 0), new Vector3d(0, 30, 0), new Vector3d(1, 2, 3))),
                new SetShapes("*", SetShapes.Use.TRIGGER, 0.4, 0.2),
                new MirrorShapes("*"),
                new ShapesToParts("*", "*_collision", true),
                new ShapesFromParts("*_collision", ShapesFromParts.Kind.HULL, Collider.Role.QUERY),
                new RemoveCollision("*", RemoveCollision.What.ALL),
                new Shatter("crates", 4),
                new RelaxUvs("figure", VertexSet.ALL, 0));
    }

    private static SkeletonOutline outline() {
        SkeletonOutline.Joint one = new SkeletonOutline.Joint("j_5", "", new Vector3d(0, 1, 2), new Quaterniond());
        return new SkeletonOutline(List.of(one));
    }

    private static Ledger ledger(List<Step> steps) {
        return new Ledger(steps.stream().map(s -> new Ledger.Entry(s, true)).toList());
    }

    @Test
    public void everyStepSurvivesItsText() throws BadJson {
        assertThat(oneOfEach().stream().map(Object::getClass).toList())
                .as("a step is missing here")
                .containsAll(Steps.ALL);
        Ledger ledger = ledger(oneOfEach()).switched(3, false);
        String text = ledger.toJson();
        Ledger read = Ledger.parse(text);
        assertThat(read.toJson()).isEqualTo(text);
        assertThat(read.entries().get(3).on()).isFalse();
        assertThat(read.entries().get(2).step()).isEqualTo(new Convert(TARGET, true));
    }

    /** A ledger as November 2026 wrote it, one of each step: names of steps have changed since. */
    @Test
    public void ledgersOfEarlierVersionsAreRead() throws Exception {
        String text;
        try (InputStream in = LedgerTest.class.getResourceAsStream("of-november.json")) {
            text = new String(in.readAllBytes(), StandardCharsets.UTF_8);
        }
        List<JsonNode> then =
                JsonMapper.shared().readTree(text).path("steps").valueStream().toList();
        List<Ledger.Entry> read = Ledger.parse(text).entries();
        assertThat(read).hasSameSizeAs(then);
        Set<String> renamed = new TreeSet<>();
        for (int i = 0; i < read.size(); i++) {
            ObjectNode now = (ObjectNode) JsonMapper.shared()
                    .readTree(StepCodec.write(read.get(i).step()).toString());
            ObjectNode before = (ObjectNode) then.get(i);
            if (!now.get("step").equals(before.get("step"))) {
                renamed.add(
                        before.get("step").stringValue() + " " + now.get("step").stringValue());
            }
            now.remove("step");
            before.remove("step");
            // What a step has learned since takes its fallback.
            now.retain(before.propertyNames());
            assertThat(now).isEqualTo(before);
        }
        assertThat(renamed)
                .containsExactly(
                        "even-along average-across",
                        "give-strays assign-unweighted",
                        "ship mark-for-export",
                        "take-off-joint remove-influence");
    }

    /** Nothing but its registration is needed for a type to be kept, read, described and edited. */
    @Test
    public void everyParameterIsOfARegisteredTypeWhoseExampleSurvives() throws BadJson {
        for (Class<? extends Step> step : Steps.ALL) {
            for (RecordComponent parameter : step.getRecordComponents()) {
                ParameterType<?> type = ParameterTypes.of(parameter);
                JsonNode json = type.toJson(type.example());
                assertThat(type.toJson(type.read().read(json, "here")))
                        .as(type.says())
                        .isEqualTo(json);
                JsonNode wrong = JsonNodeFactory.instance.arrayNode().add(1);
                Object taken;
                try {
                    taken = type.read().read(wrong, "here");
                } catch (BadJson e) {
                    taken = null;
                }
                assertThat(taken).as(type.says()).isNull();
            }
        }
    }

    private List<Replay.Done> done;

    /** One of each step, one after the other; run once for all that look at it. */
    private synchronized List<Replay.Done> oneOfEachDone() throws BadJson {
        if (done == null) {
            done = Replay.all(RandomAssets.of(8), ledger(oneOfEach()), false, Work.QUIET);
        }
        return done;
    }

    /** What is stated of a number is what the step holds: just outside it refuses, where the step itself fits. */
    @Test
    public void aNumberOutsideItsStatedRangeIsRefusedByTheStepAndNamedBeforehand() throws BadJson {
        Asset before = RandomAssets.of(8);
        int held = 0;
        for (Replay.Done done : oneOfEachDone()) {
            Asset asset = before;
            Step step = done.step();
            for (RecordComponent component : step.getClass().getRecordComponents()) {
                Parameter parameter = component.getAnnotation(Parameter.class);
                for (double bad : new double[] {parameter.least() - 1, parameter.most() + 1}) {
                    if (done.outcome().isEmpty() || Double.isInfinite(bad)) {
                        continue;
                    }
                    ObjectNode json = StepCodec.write(step);
                    boolean whole = component.getType() == int.class;
                    json.set(component.getName(), whole ? IntNode.valueOf((int) bad) : DoubleNode.valueOf(bad));
                    assertThatThrownBy(() -> StepCodec.inRange(json, step.getClass()))
                            .hasMessageContaining(component.getName());
                    Step outside = StepCodec.read(json, "here");
                    assertThat(Replay.one(asset, outside, false, Work.QUIET).outcome())
                            .as(json.toString())
                            .isEmpty();
                    held++;
                }
            }
            StepCodec.inRange(StepCodec.write(step), step.getClass());
            before = done.asset();
        }
        assertThat(held).isGreaterThan(50);
    }

    @Test
    public void replayingTheTextGivesTheSameAsset() throws BadJson {
        Asset source = RandomAssets.of(8);
        List<Replay.Done> first = oneOfEachDone();
        List<Replay.Done> again =
                Replay.all(RandomAssets.of(8), Ledger.parse(ledger(oneOfEach()).toJson()), false, Work.QUIET);
        // There is no hinge in a random figure, no strand, nothing closed, nothing that faces or hides, no inside of an
        // island of its picture, no copy of its skeleton, no second skeleton, no cache that begins
        // at rest and no lost channel.
        List<Class<?>> unfit = List.of(
                PivotToHinge.class,
                FaceForward.class,
                Retarget.class,
                BindChannels.class,
                Cover.class,
                MendPokeThrough.class,
                StrandsToMesh.class,
                Shatter.class,
                OneSkeleton.class,
                OrderCache.class,
                RelaxUvs.class);
        assertThat(first.stream().filter(d -> !unfit.contains(d.step().getClass())))
                .allSatisfy(d -> assertThat(d.outcome()).as(d.reason()).isPresent());
        Asset a = first.getLast().asset();
        Asset b = again.getLast().asset();
        assertThat(a.meshes().getFirst().primitives().getFirst().positions())
                .isEqualTo(b.meshes().getFirst().primitives().getFirst().positions());
        assertThat(a.meshes().getFirst().primitives().getFirst().influences().weights())
                .isEqualTo(b.meshes()
                        .getFirst()
                        .primitives()
                        .getFirst()
                        .influences()
                        .weights());
        assertThat(a.skins().getFirst().inverseBinds())
                .isEqualTo(b.skins().getFirst().inverseBinds());
    }

    @Test
    public void undoIsExact() {
        Asset source = RandomAssets.of(5);
        History history = new History(source);
        List<Asset> states = new ArrayList<>(List.of(source));
        for (Step step : List.of(new AddRoot("root"), new Convert(TARGET, true), new LimitInfluences("", 2, 0))) {
            history = history.with(Replay.one(history.latest(), step, false, Work.QUIET));
            states.add(history.latest());
        }
        for (int i = states.size() - 1; i > 0; i--) {
            assertThat(history.latest()).isSameAs(states.get(i));
            history = history.undone();
        }
        assertThat(history.latest()).isSameAs(source);
        assertThat(history.canUndo()).isFalse();
        history = history.redone();
        assertThat(history.latest()).isSameAs(states.get(1));
    }

    /** States far back are let go when memory is wanted, and made again when somebody looks there. */
    @Test
    public void statesLetGoAreMadeAgainToTheSameBits() throws Exception {
        Asset source = RandomAssets.of(8);
        History history = new History(source);
        List<float[]> positions = new ArrayList<>();
        for (int i = 0; i < 40; i++) {
            Step step = i == 20
                    ? new RemoveInfluence("no such mesh", "a", VertexSet.ALL, Optional.empty())
                    : new Convert(i % 2 == 0 ? TARGET : Conventions.GLTF, false);
            history = history.with(Replay.one(history.latest(), step, false, Work.QUIET));
            positions.add(firstPositions(history.latest()).clone());
        }
        var known = State.class.getDeclaredField("known");
        known.setAccessible(true);
        for (Replay.Done done : history.done()) {
            ((SoftReference<?>) known.get(done.state())).clear();
        }
        int kept = 0;
        for (int i = 39; i >= 0; i--) {
            Asset state = history.after(i + 1);
            assertThat(firstPositions(state)).isEqualTo(positions.get(i));
            assertThat(history.after(i + 1))
                    .as("the same object while it lives")
                    .isSameAs(state);
            kept += ((SoftReference<?>) known.get(history.done().get(i).state())).get() == null ? 1 : 0;
        }
        assertThat(kept).isBetween(10, 14);
        assertThat(history.after(21)).isSameAs(history.after(20));
    }

    private static float[] firstPositions(Asset asset) {
        return asset.meshes().getFirst().primitives().getFirst().positions();
    }

    @Test
    public void aStepThatNoLongerFitsIsNamedAndTheRestRuns() {
        Ledger ledger = ledger(
                List.of(new RemoveInfluence("coat", "joint_1", VertexSet.ALL, Optional.empty()), new AddRoot("root")));
        List<Replay.Done> done = Replay.all(RandomAssets.of(2), ledger, false, Work.QUIET);
        assertThat(done.get(0).outcome()).isEmpty();
        assertThat(done.get(0).reason()).contains("coat");
        assertThat(AddRoot.hasCleanRoot(done.get(1).asset())).isTrue();
    }

    @Test
    public void unchangedArraysAreShared() {
        Asset source = RandomAssets.of(8);
        Asset rooted =
                Replay.one(source, new AddRoot("root"), false, Work.QUIET).asset();
        assertThat(rooted.meshes().getFirst()).isSameAs(source.meshes().getFirst());
        Asset set = Replay.one(source, new SetWeight("figure", "joint_1", chosen(source), 0.5), false, Work.QUIET)
                .asset();
        assertThat(set.meshes().getFirst().primitives().getFirst().positions())
                .isSameAs(source.meshes().getFirst().primitives().getFirst().positions());
    }

    /** The same vertices under other numbers: a vertex was put in front of all. */
    @Test
    public void chosenVerticesAreFoundAgainByWhereTheyWere() throws Exception {
        Mesh old = RandomAssets.of(8).meshes().getFirst();
        Primitive p = old.primitives().getFirst();
        float[] shifted = new float[p.positions().length + 3];
        System.arraycopy(p.positions(), 0, shifted, 3, p.positions().length);
        int[] corners = p.indices().clone();
        for (int i = 0; i < corners.length; i++) {
            corners[i]++;
        }
        Mesh newer = Mesh.of("figure", Primitive.triangles(corners, shifted, null, -1));
        VertexSet set = chosen(RandomAssets.of(8));
        BitSet found = set.on(newer);
        assertThat(found.stream().map(v -> v - 1).toArray())
                .isEqualTo(set.vertices().stream().toArray());
        shifted[4 * 3] += 0.001f;
        assertThatThrownBy(() -> set.on(Mesh.of("figure", Primitive.triangles(corners, shifted.clone(), null, -1))))
                .hasMessageContaining("1 of the 7");
    }

    @Test
    public void mistakesInTheTextAreNamedWithTheirPlace() {
        assertBad("{", "not JSON");
        assertBad("[]", "\"ledger\": 1");
        assertBad("{\"ledger\": 2, \"steps\": []}", "version 1, found 2");
        assertBad("{\"ledger\": 1, \"steps\": [{\"step\": \"add-rot\"}]}", "step 1", "add-rot", "add-root");
        assertBad("{\"ledger\": 1, \"steps\": [{\"step\": \"add-root\", \"nam\": \"x\"}]}", "no parameter \"nam\"");
        assertBad("{\"ledger\": 1, \"steps\": [{\"step\": \"convert\"}]}", "\"to\"", "conventions", "missing");
        assertBad(
                "{\"ledger\": 1, \"steps\": [{\"step\": \"convert\", \"to\": \"up\"}]}",
                "step 1 (convert) to",
                "\"up\"");
        assertBad(
                "{\"ledger\": 1, \"steps\": [{\"step\": \"limit-influences\", \"most\": \"four\"}]}",
                "whole number",
                "\"four\"");
        assertBad(
                "{\"ledger\": 1, \"steps\": [{\"step\": \"set-weight\", \"mesh\": \"m\", \"joint\": \"j\","
                        + " \"weight\": 1, \"vertices\": {\"numbers\": \"5-2\"}}]}",
                "numbers");
        assertBad(
                "{\"ledger\": 1, \"steps\": [{\"step\": \"set-weight\", \"mesh\": \"m\", \"joint\": \"j\","
                        + " \"weight\": 1, \"vertices\": {\"numbers\": \"0-4000000000\"}}]}",
                "numbers");
    }

    private static void assertBad(String text, String... said) {
        assertThatThrownBy(() -> Ledger.parse(text)).isInstanceOf(BadJson.class).hasMessageContainingAll(said);
    }

    @Test
    public void defaultsStandInForWhatIsLeftOut() throws BadJson {
        Ledger read = Ledger.parse("{\"ledger\": 1, \"steps\": [{\"step\": \"limit-influences\"},"
                + "{\"step\": \"convert\", \"to\": {\"metresPerUnit\": 0.01, \"up\": \"z\", \"forward\": \"y\","
                + " \"handedness\": \"left\"}}]}");
        assertThat(read.entries().get(0).step()).isEqualTo(new LimitInfluences("", 4, 0));
        assertThat(read.entries().get(1).step()).isEqualTo(new Convert(TARGET, true));
    }

    @Test
    public void everyStepDescribesItself() {
        JsonNode all = StepCodec.describeAll();
        assertThat(all.path("steps").size()).isEqualTo(Steps.ALL.size());
        for (JsonNode step : all.path("steps")) {
            assertThat(step.path("says").stringValue()).endsWith(".");
            for (JsonNode parameter : step.path("parameters")) {
                assertThat(parameter.path("says").stringValue()).isNotBlank();
                assertThat(parameter.has("default"))
                        .isNotEqualTo(parameter.path("required").booleanValue());
            }
        }
    }
}
