package org.cleanmarrow.desktop.desk;

import java.util.BitSet;
import java.util.concurrent.CompletableFuture;
import org.cleanmarrow.model.Asset;

/**
 * Choices that follow from the one in hand, such as all around it: found away from the interface thread, in the order they are asked
 * for, each from what the one before came to. Where something else is chosen meanwhile, that stays.
 */
public final class Rechoosing {
    private final Desk desk;
    /** What was asked for last, while it is looked for. */
    private CompletableFuture<BitSet> last;
    /** What was chosen when it was asked for, or what came of those before it. */
    private Selection.Chosen from;

    /** Finds vertices of a mesh from others. Called away from the interface thread. */
    public interface Way {
        BitSet of(Asset asset, int mesh, BitSet chosen);
    }

    Rechoosing(Desk desk) {
        this.desk = desk;
    }

    public void ask(int mesh, Way way) {
        ask(mesh, way, () -> {});
    }

    /** @param then called once it is chosen */
    public void ask(int mesh, Way way, Runnable then) {
        Asset asset = desk.now();
        Selection.Chosen now = desk.selection().chosen().get();
        if (last == null || now != from) {
            last = CompletableFuture.completedFuture(now.mesh() == mesh ? now.vertices() : new BitSet());
            from = now;
        }
        CompletableFuture<BitSet> before = last;
        CompletableFuture<BitSet> own = new CompletableFuture<>();
        last = own;
        desk.jobs()
                .glance(
                        w -> {
                            BitSet found = way.of(asset, mesh, before.join());
                            own.complete(found);
                            return found;
                        },
                        found -> take(asset, mesh, found, then),
                        () -> end(own));
    }

    private void take(Asset asset, int mesh, BitSet found, Runnable then) {
        if (desk.isOpen() && desk.now() == asset && desk.selection().chosen().get() == from) {
            desk.selection().choose(mesh, found);
            from = desk.selection().chosen().get();
            then.run();
        }
    }

    /** However it ended: where it came to nothing, nothing follows from it. */
    private void end(CompletableFuture<BitSet> asked) {
        asked.cancel(false);
        if (last == asked) {
            last = null;
        }
    }
}
