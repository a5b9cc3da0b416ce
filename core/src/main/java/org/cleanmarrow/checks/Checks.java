package org.cleanmarrow.checks;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import org.cleanmarrow.checks.caches.CacheCount;
import org.cleanmarrow.checks.caches.CacheJump;
import org.cleanmarrow.checks.caches.CacheOrders;
import org.cleanmarrow.checks.caches.CacheShifted;
import org.cleanmarrow.checks.caches.CacheStretched;
import org.cleanmarrow.checks.caches.CacheThrough;
import org.cleanmarrow.checks.caches.CacheUnit;
import org.cleanmarrow.checks.caches.StrandsBare;
import org.cleanmarrow.checks.caches.StrandsBudget;
import org.cleanmarrow.checks.collision.BodiesWithoutShape;
import org.cleanmarrow.checks.collision.BodyInertia;
import org.cleanmarrow.checks.collision.BodyMass;
import org.cleanmarrow.checks.collision.JointApart;
import org.cleanmarrow.checks.collision.JointFights;
import org.cleanmarrow.checks.collision.JointLimits;
import org.cleanmarrow.checks.collision.PartsThatDoNotCollide;
import org.cleanmarrow.checks.collision.ShapeSize;
import org.cleanmarrow.checks.collision.ShapesOverlap;
import org.cleanmarrow.checks.collision.StillRoot;
import org.cleanmarrow.checks.collision.ThinShapes;
import org.cleanmarrow.checks.intake.CountBudget;
import org.cleanmarrow.checks.intake.DuplicateContent;
import org.cleanmarrow.checks.intake.ExtensionsAllowed;
import org.cleanmarrow.checks.intake.LodsTogether;
import org.cleanmarrow.checks.intake.MaterialsAllowed;
import org.cleanmarrow.checks.intake.NamesAsked;
import org.cleanmarrow.checks.intake.NamesDiffer;
import org.cleanmarrow.checks.intake.NamesIllegal;
import org.cleanmarrow.checks.intake.NonFinite;
import org.cleanmarrow.checks.intake.NormalsAway;
import org.cleanmarrow.checks.intake.NormalsNotUnit;
import org.cleanmarrow.checks.intake.Pictures;
import org.cleanmarrow.checks.intake.TextureSize;
import org.cleanmarrow.checks.intake.TriangleBudget;
import org.cleanmarrow.checks.intake.UnusedContent;
import org.cleanmarrow.checks.motion.ClipLength;
import org.cleanmarrow.checks.motion.ClipOfOtherSkeleton;
import org.cleanmarrow.checks.motion.ClipRate;
import org.cleanmarrow.checks.motion.LoopJumps;
import org.cleanmarrow.checks.motion.LostChannels;
import org.cleanmarrow.checks.motion.OneWayLoops;
import org.cleanmarrow.checks.motion.OtherProportions;
import org.cleanmarrow.checks.motion.SkeletonsApart;
import org.cleanmarrow.checks.scale.ClipSize;
import org.cleanmarrow.checks.scale.ConventionsDiffer;
import org.cleanmarrow.checks.scale.Facing;
import org.cleanmarrow.checks.scale.NodeTransforms;
import org.cleanmarrow.checks.scale.SizeOutOfOrdinary;
import org.cleanmarrow.checks.scale.UnreadTransforms;
import org.cleanmarrow.checks.skeleton.BindsDiffer;
import org.cleanmarrow.checks.skeleton.DegenerateBinds;
import org.cleanmarrow.checks.skeleton.EndJoints;
import org.cleanmarrow.checks.skeleton.JointBudget;
import org.cleanmarrow.checks.skeleton.JointsNamedTwice;
import org.cleanmarrow.checks.skeleton.JointsNeeded;
import org.cleanmarrow.checks.skeleton.RolesSound;
import org.cleanmarrow.checks.skeleton.RootMissing;
import org.cleanmarrow.checks.skeleton.SkeletonTwice;
import org.cleanmarrow.checks.skin.HardBends;
import org.cleanmarrow.checks.skin.InfluenceCount;
import org.cleanmarrow.checks.skin.RegionFaults;
import org.cleanmarrow.checks.skin.SeamsOpen;
import org.cleanmarrow.checks.skin.ShowsThrough;
import org.cleanmarrow.checks.skin.StrayVertices;
import org.cleanmarrow.checks.skin.Unseen;
import org.cleanmarrow.checks.skin.WeightIslands;
import org.cleanmarrow.checks.skin.WeightLeaks;
import org.cleanmarrow.checks.skin.WeightSums;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Threads;
import org.cleanmarrow.work.Work;

/**
 * Every check there is, in the order in which their fixes fit: units before axes, axes before folding, what changes
 * weights before what takes joints away, and names last, because steps refer to things by name. A new one is added by its
 * line here.
 */
public final class Checks {
    public static final List<Check> ALL = List.of(
            new NonFinite(),
            new SizeOutOfOrdinary(),
            new ClipSize(),
            new ConventionsDiffer(),
            new Facing(),
            new NodeTransforms(),
            new UnreadTransforms(),
            new NormalsNotUnit(),
            new NormalsAway(),
            new LodsTogether(),
            new TriangleBudget(),
            CountBudget.VERTICES,
            CountBudget.MATERIALS,
            CountBudget.TEXTURES,
            new TextureSize(),
            new Pictures(),
            new RootMissing(),
            new DegenerateBinds(),
            new SkeletonTwice(),
            new BindsDiffer(),
            new RolesSound(),
            new StrayVertices(),
            new WeightSums(),
            new SeamsOpen(),
            new WeightLeaks(),
            new WeightIslands(),
            new InfluenceCount(),
            new ShowsThrough(),
            new Unseen(),
            new HardBends(),
            new RegionFaults(),
            new LostChannels(),
            new OneWayLoops(),
            new LoopJumps(),
            new ClipLength(),
            new ClipRate(),
            new SkeletonsApart(),
            new OtherProportions(),
            new ClipOfOtherSkeleton(),
            new EndJoints(),
            new JointBudget(),
            new JointsNeeded(),
            new CacheCount(),
            new CacheUnit(),
            new CacheOrders(),
            new CacheShifted(),
            new CacheJump(),
            new CacheStretched(),
            new CacheThrough(),
            new StrandsBare(),
            new StrandsBudget(),
            new StillRoot(),
            new BodiesWithoutShape(),
            new PartsThatDoNotCollide(),
            new ShapesOverlap(),
            new BodyMass(),
            new ShapeSize(),
            new JointApart(),
            new ThinShapes(),
            new JointLimits(),
            new JointFights(),
            new BodyInertia(),
            new DuplicateContent(),
            new UnusedContent(),
            new ExtensionsAllowed(),
            new MaterialsAllowed(),
            new JointsNamedTwice(),
            new NamesDiffer(),
            new NamesIllegal(),
            new NamesAsked());

    private Checks() {}

    /** Runs all checks; findings in the order in which their fixes fit, of one check the gravest first. */
    public static List<Finding> run(Asset asset, Target target, Work work) {
        Threads.begins("checks");
        Examination examination = new Examination(asset, target, work);
        List<Finding> all = new ArrayList<>();
        for (int i = 0; i < ALL.size(); i++) {
            if (!target.wants(ALL.get(i))) {
                continue;
            }
            work.stopIfCancelled();
            work.at(i / (double) ALL.size(), ALL.get(i).id());
            List<Finding> found = new ArrayList<>();
            ALL.get(i).run(examination).forEach(f -> found.add(target.weighed(f)));
            found.sort(Comparator.comparing(Finding::severity));
            all.addAll(found);
        }
        return List.copyOf(all);
    }
}
