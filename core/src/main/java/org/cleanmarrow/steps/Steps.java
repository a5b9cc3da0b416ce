package org.cleanmarrow.steps;

import java.util.List;
import org.cleanmarrow.step.Step;

/** Every step there is; a new one is added by its line here. */
public final class Steps {
    public static final List<Class<? extends Step>> ALL = List.of(
            DeclareConventions.class,
            Convert.class,
            FreezeNodes.class,
            TurnAndFold.class,
            SetPivot.class,
            PivotToHinge.class,
            DropToGround.class,
            MirrorPart.class,
            Ship.class,
            SweepLods.class,
            LodDistances.class,
            Simplify.class,
            Combine.class,
            PaletteTexture.class,
            OwnMaterial.class,
            ShareDuplicates.class,
            Triangulate.class,
            Rename.class,
            RenameMany.class,
            RenamePattern.class,
            ReplacePrefix.class,
            MatchNames.class,
            LegalNames.class,
            AddRoot.class,
            RootMotion.class,
            TrimIdle.class,
            Reparent.class,
            MergeJoint.class,
            SplitJoint.class,
            InsertJoint.class,
            MirrorLimb.class,
            StaticTwin.class,
            RigParts.class,
            OrientJoints.class,
            MatchSkeleton.class,
            SetSwing.class,
            SetRoles.class,
            TPose.class,
            RestFrom.class,
            Rebind.class,
            TrimEnds.class,
            SetWeight.class,
            TakeOffJoint.class,
            LimitInfluences.class,
            NormaliseWeights.class,
            GiveStrays.class,
            RemoveLostChannels.class,
            ScaleClip.class);

    private Steps() {}
}
