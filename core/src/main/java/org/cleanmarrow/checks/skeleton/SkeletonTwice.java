package org.cleanmarrow.checks.skeleton;

import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.query.TwinSkeletons;
import org.cleanmarrow.steps.skeleton.OneSkeleton;

/** What hangs on a copy of a skeleton that is there besides: a garment that brought its own does not move with the body. */
public final class SkeletonTwice implements Check {
    @Override
    public String id() {
        return "skeleton-twice";
    }

    @Override
    public Station station() {
        return Station.SKELETON;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        List<Finding> out = new ArrayList<>();
        for (TwinSkeletons twin : TwinSkeletons.of(asset)) {
            String worn = IntStream.range(0, asset.meshes().size())
                    .filter(m -> twin.skins().contains(asset.skinOfMesh(m)))
                    .mapToObj(asset::meshRef)
                    .collect(Collectors.joining(", "));
            int first = twin.joints().keySet().iterator().next();
            out.add(Finding.of(
                            this,
                            Severity.BLOCKER,
                            "",
                            worn,
                            twin.joints().size(),
                            worn,
                            twin.many(),
                            twin.joints().size(),
                            asset.nodeRef(twin.joints().values().iterator().next()))
                    .at(Finding.Place.node(first))
                    .fixedBy(new OneSkeleton()));
        }
        return out;
    }
}
