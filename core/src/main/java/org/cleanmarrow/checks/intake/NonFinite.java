package org.cleanmarrow.checks.intake;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.VertexTrack;
import org.jspecify.annotations.Nullable;

/** Numbers that are infinite or not numbers, in vertices, weights, node transforms and keys. */
public final class NonFinite implements Check {
    @Override
    public String id() {
        return "non-finite";
    }

    @Override
    public Station station() {
        return Station.INTAKE;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        List<Finding> findings = new ArrayList<>();
        for (int m = 0; m < asset.meshes().size(); m++) {
            BitSet bad = badVertices(asset.meshes().get(m));
            if (!bad.isEmpty()) {
                String name = asset.meshRef(m);
                findings.add(
                        Finding.of(this, Severity.BLOCKER, "mesh", name, bad.cardinality(), name, bad.cardinality())
                                .at(Finding.Place.mesh(m, bad)));
            }
        }
        for (int n = 0; n < asset.nodes().size(); n++) {
            Node node = asset.nodes().get(n);
            if (!node.local().toMatrix().isFinite()) {
                findings.add(Finding.of(this, Severity.BLOCKER, "node", asset.nodeRef(n), 1, asset.nodeRef(n))
                        .at(Finding.Place.node(n)));
            }
        }
        for (int c = 0; c < asset.clips().size(); c++) {
            long keys = 0;
            for (Channel channel : asset.clips().get(c).channels()) {
                keys += bad(channel);
            }
            if (keys > 0) {
                String name = asset.clips().get(c).name();
                findings.add(Finding.of(this, Severity.BLOCKER, "clip", name, keys, name, keys)
                        .at(Finding.Place.clip(c)));
            }
        }
        return findings;
    }

    private static BitSet badVertices(Mesh mesh) {
        BitSet all = new BitSet();
        int first = 0;
        for (Primitive p : mesh.primitives()) {
            BitSet local = bad(p.positions(), 3);
            local.or(bad(p.normals(), 3));
            local.or(bad(p.tangents(), 4));
            for (int v = 0; p.influences() != null && v < p.vertexCount(); v++) {
                if (!Double.isFinite(p.influences().sum(v))) {
                    local.set(v);
                }
            }
            for (int v = local.nextSetBit(0); v >= 0; v = local.nextSetBit(v + 1)) {
                all.set(first + v);
            }
            first += p.vertexCount();
        }
        return all;
    }

    /** Keys of a channel with a number that is not finite. */
    private static long bad(Channel channel) {
        return switch (channel.track()) {
            case Sampler keys -> bad(keys.values(), 1).cardinality();
            case VertexTrack cache -> {
                float[] frame = new float[cache.width()];
                long many = 0;
                for (int key = 0; key < cache.times().length; key++) {
                    cache.at(key, frame);
                    many += bad(frame, 3).isEmpty() ? 0 : 1;
                }
                yield many;
            }
        };
    }

    private static BitSet bad(float @Nullable [] values, int width) {
        BitSet out = new BitSet();
        for (int i = 0; values != null && i < values.length; i++) {
            if (!Float.isFinite(values[i])) {
                out.set(i / width);
            }
        }
        return out;
    }
}
