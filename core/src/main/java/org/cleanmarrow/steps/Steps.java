package org.cleanmarrow.steps;

import java.util.List;
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
import org.cleanmarrow.work.Step;

/** Every step there is; a new one is added by its line here. */
public final class Steps {
    public static final List<Class<? extends Step>> ALL = List.of(
            DeclareConventions.class,
            CorrectUnit.class,
            Convert.class,
            FreezeNodes.class,
            FaceForward.class,
            TurnAndFold.class,
            SetPivot.class,
            PivotToHinge.class,
            DropToGround.class,
            MirrorPart.class,
            MarkForExport.class,
            SweepLods.class,
            LodDistances.class,
            Simplify.class,
            Combine.class,
            PaletteTexture.class,
            OwnMaterial.class,
            MergeMaterials.class,
            OrderMaterials.class,
            RelaxUvs.class,
            ShareDuplicates.class,
            RemoveUnused.class,
            FitTextures.class,
            Triangulate.class,
            OrderVertices.class,
            UnitNormals.class,
            Rename.class,
            RenameMany.class,
            RenamePattern.class,
            ReplacePrefix.class,
            MatchNames.class,
            LegalNames.class,
            UniqueJointNames.class,
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
            OneSkeleton.class,
            SetSwing.class,
            SetRoles.class,
            TPose.class,
            RestFrom.class,
            Rebind.class,
            TrimEnds.class,
            SetWeight.class,
            AdjustWeight.class,
            SmoothWeights.class,
            SharpenWeights.class,
            AverageAcross.class,
            CopyWeights.class,
            TransferWeights.class,
            Cover.class,
            MendPokeThrough.class,
            MarkRegions.class,
            SetRegion.class,
            BindVolume.class,
            MakeRigid.class,
            Dress.class,
            BindNear.class,
            PaintWeights.class,
            WeldWeights.class,
            MirrorWeights.class,
            CleanSides.class,
            QuantiseWeights.class,
            RemoveInfluence.class,
            LimitInfluences.class,
            NormaliseWeights.class,
            AssignUnweighted.class,
            RemoveLostChannels.class,
            TrimClip.class,
            ShiftClip.class,
            SplitClip.class,
            Resample.class,
            LeadIn.class,
            RemoveLeadIn.class,
            RotationOnly.class,
            FitTranslations.class,
            Bake.class,
            ReduceKeys.class,
            RemoveKeys.class,
            CloseLoop.class,
            SetLoop.class,
            TagClips.class,
            Retime.class,
            ReverseClip.class,
            HoldClip.class,
            JoinClips.class,
            MergeClips.class,
            MaskClip.class,
            BranchClips.class,
            DuplicateClip.class,
            HideByScale.class,
            Retarget.class,
            BindChannels.class,
            SmoothClip.class,
            ScaleClip.class,
            FitShapes.class,
            StandIn.class,
            ShapesApart.class,
            SetBody.class,
            JoinBodies.class,
            RecomputeNormals.class,
            BakeCache.class,
            FitCache.class,
            CacheToJoints.class,
            Shatter.class,
            ShrinkPieces.class,
            StrandsToMesh.class,
            SetCloth.class,
            SetStray.class,
            PaintStray.class,
            SimulateCloth.class,
            SimulateBodies.class,
            PlaceShape.class,
            SetShapes.class,
            MirrorShapes.class,
            RemoveCollision.class,
            ShapesFromParts.class,
            ShapesToParts.class,
            OrderCache.class);

    private Steps() {}
}
