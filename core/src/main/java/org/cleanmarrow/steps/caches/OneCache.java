package org.cleanmarrow.steps.caches;

import java.util.List;
import org.cleanmarrow.caches.CacheUse;
import org.cleanmarrow.edit.Clips;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Refused;

/** The one cache that a mesh and a clip name. */
final class OneCache {
    private OneCache() {}

    /**
     * Finds it.
     *
     * @param mesh name of the mesh
     * @param clip name of its clip; blank: the only one with a cache of the mesh
     * @throws Refused where there is none, or more than one
     */
    static CacheUse of(Asset asset, String mesh, String clip) throws Refused {
        int number = clip.isBlank() ? -1 : Clips.number(asset, clip);
        List<CacheUse> uses = CacheUse.of(asset, Names.mesh(asset, mesh)).stream()
                .filter(u -> number < 0 || u.clip() == number)
                .toList();
        if (uses.isEmpty()) {
            throw new Refused("cache.none", mesh);
        }
        if (uses.size() > 1) {
            throw new Refused("cache.which", mesh, uses.size());
        }
        return uses.getFirst();
    }
}
