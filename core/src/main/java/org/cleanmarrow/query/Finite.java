package org.cleanmarrow.query;

import java.util.Collections;
import java.util.IdentityHashMap;
import java.util.Optional;
import java.util.Set;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.MorphTarget;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.model.VertexTrack;
import org.jspecify.annotations.Nullable;

/** Whether the numbers of an asset are finite. */
public final class Finite {
    private Finite() {}

    /**
     * Where a change made a number that is not finite out of an asset whose numbers all were.
     *
     * <p>Cost: arrays that both share are not looked at.
     *
     * @return the name of what holds it; empty where all is well, or was not before either
     */
    public static Optional<String> lost(Asset before, Asset after) {
        Set<float[]> known = Collections.newSetFromMap(new IdentityHashMap<>());
        collect(before, known);
        Optional<String> now = first(after, known);
        return now.isEmpty() || first(before, Set.of()).isPresent() ? Optional.empty() : now;
    }

    private static void collect(Asset asset, Set<float[]> out) {
        for (Mesh mesh : asset.meshes()) {
            for (Primitive p : mesh.primitives()) {
                add(out, p.positions(), p.normals(), p.tangents());
                p.targets().forEach(t -> add(out, t.positions(), t.normals(), t.tangents()));
                if (p.influences() != null) {
                    add(out, p.influences().weights());
                }
            }
        }
        asset.skins().forEach(s -> add(out, s.inverseBinds()));
        asset.clips().forEach(c -> c.channels().forEach(x -> add(out, numbers(x))));
    }

    private static void add(Set<float[]> out, float[] @Nullable ... arrays) {
        for (float[] array : arrays) {
            if (array != null) {
                out.add(array);
            }
        }
    }

    private static Optional<String> first(Asset asset, Set<float[]> known) {
        for (int m = 0; m < asset.meshes().size(); m++) {
            for (Primitive p : asset.meshes().get(m).primitives()) {
                boolean fine = all(known, p.positions(), p.normals(), p.tangents())
                        && (p.influences() == null || all(known, p.influences().weights()));
                for (MorphTarget t : p.targets()) {
                    fine &= all(known, t.positions(), t.normals(), t.tangents());
                }
                if (!fine) {
                    return Optional.of(asset.meshRef(m));
                }
            }
        }
        for (int n = 0; n < asset.nodes().size(); n++) {
            Local local = asset.nodes().get(n).local();
            if (!all(known, local.translation(), local.rotation(), local.scale(), local.matrix())) {
                return Optional.of(asset.nodeRef(n));
            }
        }
        for (Skin skin : asset.skins()) {
            if (!all(known, skin.inverseBinds())) {
                return Optional.of(skin.name());
            }
        }
        for (Clip clip : asset.clips()) {
            for (Channel channel : clip.channels()) {
                if (!all(known, numbers(channel))) {
                    return Optional.of(clip.name());
                }
            }
        }
        return Optional.empty();
    }

    /** The numbers of a track that a step may have changed; frames of a cache never are. */
    private static float[][] numbers(Channel channel) {
        return switch (channel.track()) {
            case Sampler keys -> new float[][] {keys.values(), keys.times()};
            case VertexTrack cache ->
                new float[][] {cache.times(), cache.change().get(new float[16])};
        };
    }

    private static boolean all(Set<float[]> known, float[] @Nullable ... arrays) {
        for (float[] array : arrays) {
            for (int i = 0; array != null && i < array.length && !(i == 0 && known.contains(array)); i++) {
                if (!Float.isFinite(array[i])) {
                    return false;
                }
            }
        }
        return true;
    }
}
