package org.cleanmarrow.steps.caches;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.cloth.ClothSection;
import org.cleanmarrow.cloth.Fabric;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attached;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/** Says that a part is cloth and what it is like, or that it is none; at every node that has the mesh. */
@StepInfo(name = "set-cloth", says = "Says that a part is cloth: how far it may stray, how thick it is, what slows it.")
public record SetCloth(
        @Parameter(says = "name of the mesh") String mesh,

        @Parameter(
                says = "how far a vertex may go from where its skin has it, times its stray",
                fallback = "0.5",
                unit = "metres",
                least = 0,
                most = 1000)
        double reach,

        @Parameter(
                says = "what it keeps from what it bumps into",
                fallback = "5",
                unit = "millimetres",
                least = 0,
                most = 1000)
        double thicknessMillimetres,

        @Parameter(
                says = "how much an edge gives, for a cloth of one kilogram; 0: not at all",
                fallback = "0",
                unit = "metres a newton",
                least = 0,
                most = 100)
        double stretch,

        @Parameter(
                says = "how much it gives across an edge",
                fallback = "0.001",
                unit = "metres a newton",
                least = 0,
                most = 100)
        double bend,

        @Parameter(says = "what slows it, a second", fallback = "0.5", least = 0, most = 1000)
        double damping,

        @Parameter(says = "friction of its surface", fallback = "0.4", least = 0, most = 100)
        double friction,

        @Parameter(says = "how much of gravity acts on it", fallback = "1", least = -100, most = 100)
        double gravity,

        @Parameter(says = "how often a frame it is moved on; more stretch less", fallback = "64", least = 1, most = 200)
        int substeps,

        @Parameter(says = "whether it bumps into itself", fallback = "false")
        boolean itself,

        @Parameter(says = "false: the part is cloth no more", fallback = "true")
        boolean cloth)
        implements Step {

    public SetCloth(String mesh) {
        this(mesh, 0.5, 5, 0, 0.001, 0.5, 0.4, 1, 40, false, true);
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        Fabric fabric = new Fabric(
                reach, thicknessMillimetres / 1000, stretch, bend, damping, friction, gravity, substeps, itself);
        boolean inRange = reach <= 1000
                && thicknessMillimetres <= 1000
                && stretch <= 100
                && bend <= 100
                && friction <= 100
                && Math.abs(gravity) <= 100;
        if (!inRange || !fabric.sound()) {
            throw new Refused("cloth.range");
        }
        int m = Names.mesh(asset, mesh);
        if (asset.meshes().get(m).triangleCount() == 0) {
            throw new Refused("cloth.no.triangles", mesh);
        }
        List<Attached> all = new ArrayList<>(asset.attached());
        all.removeIf(
                a -> a instanceof ClothSection && asset.nodes().get(a.node()).mesh() == m);
        int removed = asset.attached().size() - all.size();
        int made = 0;
        for (int n = 0; cloth && n < asset.nodes().size(); n++) {
            if (asset.nodes().get(n).mesh() == m) {
                all.add(new ClothSection(n, fabric));
                made++;
            }
        }
        if (cloth ? made == 0 : removed == 0) {
            throw new Refused(cloth ? "cache.not.placed" : "cloth.none", mesh);
        }
        Change change = Change.of(asset.withAttached(all));
        return cloth ? change.count("cloths.set", made) : change.count("cloths.taken", removed);
    }
}
