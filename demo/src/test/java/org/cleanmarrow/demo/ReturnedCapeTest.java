package org.cleanmarrow.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.cleanmarrow.caches.CacheUse;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.cloth.ClothSection;
import org.cleanmarrow.cloth.Strays;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.demo.ferry.ReturnedCape;
import org.cleanmarrow.demo.ferry.VestedPilot;
import org.cleanmarrow.demo.pilot.FerryPilot;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.join.Join;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.steps.caches.CacheToJoints;
import org.cleanmarrow.steps.caches.FitCache;
import org.cleanmarrow.steps.caches.RecomputeNormals;
import org.cleanmarrow.steps.motion.DuplicateClip;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.Work;
import org.testng.annotations.Test;

/** A garment comes back from elsewhere and is fitted, all by the steps that findings offer. */
public class ReturnedCapeTest {
    private static Asset done(Asset asset, Step step) {
        Replay.Done done = Replay.one(asset, step, false, Work.QUIET);
        assertThat(done.outcome()).as(done.reason()).isPresent();
        return done.asset();
    }

    private static Finding finding(Asset asset, String check) {
        return Checks.run(asset, Target.of(asset.conventions()), Work.QUIET).stream()
                .filter(f -> f.check().equals(check))
                .findFirst()
                .orElseThrow();
    }

    /** Fitted it lies where the skin has the cape, but for what it sways, and on the very frames of the clip. */
    @Test
    public void theCapeIsLaidOnThePilotByItsFinding() throws Exception {
        Asset pilot = FerryPilot.asset();
        pilot = done(pilot, finding(pilot, "strays").fix().orElseThrow());
        Asset both = Join.of(pilot, ReturnedCape.asset(), Work.QUIET);
        CacheUse came = CacheUse.all(both).getFirst();
        assertThat(both.meshRef(came.mesh())).isEqualTo("cape");
        assertThat(came.fits(both)).isTrue();
        Clip late = both.clips().get(came.clip());
        Clip hail = both.clips().get(both.findClip("hail"));
        assertThat(late.lastFrame() - hail.lastFrame()).isEqualTo(12);
        Asset fitted = done(both, finding(both, "cache-unit").fix().orElseThrow());
        // Told the unit and no shift, what is left to say is that it is late.
        Asset sized = done(both, new FitCache("cape", "hail_cloth", "hail", 0.001, "x,y,z", "0"));
        // A second clip plays the very same frames, and is late by itself.
        Asset twice = done(sized, new DuplicateClip("hail_cloth", "again"));
        assertThat(Checks.run(twice, Target.of(twice.conventions()), Work.QUIET).stream()
                        .filter(f -> f.check().equals("cache-shifted"))
                        .map(f -> f.fix().orElseThrow()))
                .containsExactly(
                        new FitCache("cape", "hail_cloth", "", 1, "x,y,z", "12"),
                        new FitCache("cape", "again", "", 1, "x,y,z", "12"));
        Clip cloth = fitted.clips().get(fitted.findClip("hail_cloth"));
        assertThat(cloth.firstFrame()).isEqualTo(hail.firstFrame());
        assertThat(cloth.lastFrame()).isEqualTo(hail.lastFrame());
        Deformer deformer = new Deformer(fitted);
        int cape = fitted.findMesh("cape");
        MeshPlace place = deformer.places().stream()
                .filter(p -> p.mesh() == cape)
                .findFirst()
                .orElseThrow();
        Rig rig = new Rig(fitted);
        double worst = 0;
        double sum = 0;
        int many = 0;
        for (int k = hail.firstFrame(); k <= hail.lastFrame(); k += 7) {
            float[] swung = deformer.positions(place, rig.at(cloth, k / hail.rate()));
            float[] skinned = deformer.positions(place, rig.at(hail, k / hail.rate()));
            for (int i = 0; i < swung.length; i += 3) {
                double off = Math.hypot(
                        Math.hypot(swung[i] - skinned[i], swung[i + 1] - skinned[i + 1]),
                        swung[i + 2] - skinned[i + 2]);
                worst = Math.max(worst, off);
                sum += off;
                many++;
            }
        }
        // Centimetres: it sways by 2.5 at 0.6 m, by no more than 3.4 at the hem.
        assertThat(worst).isBetween(1.0, 3.4);
        assertThat(sum / many).isLessThan(1);
        assertThat(Checks.run(fitted, Target.of(fitted.conventions()), Work.QUIET).stream()
                        .map(Finding::check))
                .doesNotContain("cache-unit", "cache-shifted", "cache-jump", "cache-stretched", "cache-count");
    }

    /** Alone it gets its size, normals that look outwards, and joints that move it nearly as the cache does. */
    @Test
    public void aloneItBecomesWhatAnEnginePlays() {
        Asset cape = ReturnedCape.asset();
        cape = done(cape, finding(cape, "size").fix().orElseThrow());
        assertThat(finding(cape, "normals-away").fix()).isPresent();
        cape = done(cape, new RecomputeNormals("*", 80));
        assertThat(Checks.run(cape, Target.of(Conventions.GLTF), Work.QUIET).stream()
                        .map(Finding::check))
                .doesNotContain("size", "normals-away", "normals");
        Replay.Done jointed = Replay.one(cape, new CacheToJoints("cape", 12), false, Work.QUIET);
        assertThat(jointed.outcome()).as(jointed.reason()).isPresent();
        assertThat(jointed.asset().skins()).hasSize(1);
        assertThat(CacheUse.all(jointed.asset())).isEmpty();
    }

    /** Pinned at the shoulders, free below. */
    @Test
    public void theVestedPilotsCapeIsCloth() {
        Asset pilot = VestedPilot.asset();
        List<ClothSection> sections = ClothSection.all(pilot);
        assertThat(sections).hasSize(1);
        int cape = pilot.nodes().get(sections.getFirst().node()).mesh();
        assertThat(pilot.meshRef(cape)).isEqualTo("cape");
        float[] strays = Strays.of(pilot.meshes().get(cape));
        assertThat(strays).contains(0f, 1f);
        double pinned = 0;
        for (float stray : strays) {
            pinned += stray == 0 ? 1 : 0;
        }
        assertThat(pinned / strays.length).isBetween(0.05, 0.3);
    }
}
