package org.cleanmarrow.formats.delivery;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.kit.StickFigure;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.steps.scale.Convert;
import org.cleanmarrow.text.Length;
import org.cleanmarrow.work.Work;
import org.testng.annotations.Test;

public class ArrivalTest {
    private static final Conventions TAKEN = Conventions.parse("z-up-cm-lh").orElseThrow();
    private static final double TALL = 1.8;

    /** Somebody of 1.8 m with a clip, as glTF has it. */
    private static Asset person() {
        Asset asset = StickFigure.of(TALL);
        Sampler up = new Sampler(
                Sampler.Interpolation.LINEAR, new float[] {0, 1}, new float[] {0, 0, 0, 0, 0.2f, 0}, 3, Storage.FLOAT);
        Channel channel =
                new Channel(asset.skins().getFirst().joints()[3], Channel.Path.TRANSLATION, up, "", Passthrough.NONE);
        return asset.withClips(
                List.of(new Clip("reach", List.of(channel), 24, false, true, List.of(), Passthrough.NONE)));
    }

    private static Arrival arrived(Asset asset, boolean apart) throws Exception {
        Path folder = Files.createTempDirectory("marrow");
        Delivery.Delivered delivered =
                Delivery.deliver(asset, folder, Recipe.of("glb", apart), Optional.empty(), Work.QUIET);
        return Arrival.of(delivered.files(), TAKEN, asset, Work.QUIET);
    }

    private static double tall(Arrival arrival) {
        return ((Length) arrival.facts().getFirst().facts().getFirst()).metres();
    }

    @Test
    public void whatWasConvertedArrivesAsItWasMeantItsClipsOnTheModel() throws Exception {
        Asset converted = new Convert(TAKEN, true).apply(person(), Work.QUIET).asset();
        for (boolean apart : new boolean[] {false, true}) {
            Arrival arrival = arrived(converted, apart);
            assertThat(arrival.wrong()).isEmpty();
            assertThat(arrival.motion().largestMetres()).isLessThan(1e-5);
            assertThat(tall(arrival)).isCloseTo(tall(arrived(converted, false)), within(1e-9));
            assertThat(arrival.asset().clips()).hasSize(1);
            assertThat(arrival.facts().toString()).contains("reach: frames 0 to 24 at 24 a second");
        }
    }

    /** Metres taken for centimetres are a hundredth, and up in glTF is a receiver's left hand where Z is up. */
    @Test
    public void whatWasNotConvertedIsAHundredthAndLies() throws Exception {
        Arrival arrival = arrived(person(), false);
        Arrival converted =
                arrived(new Convert(TAKEN, true).apply(person(), Work.QUIET).asset(), false);
        assertThat(arrival.wrong().toString()).contains("Its upper end points along y, where z is up");
        // What was deep is tall now.
        Length deep = (Length) converted.facts().getFirst().facts().get(2);
        assertThat(tall(arrival)).isCloseTo(deep.metres() / 100, within(1e-7));
        assertThat(arrival.motion().largestMetres()).isGreaterThan(1);
    }

    @Test
    public void theTwinOfAFileIsToldByItsName() {
        assertThat(Delivery.isStill(Path.of("out/pilot_v003.still.glb"))).isTrue();
        assertThat(Delivery.isStill(Path.of("out/pilot_v003_obj.still.obj"))).isTrue();
        assertThat(Delivery.isStill(Path.of("out/pilot_v003.glb"))).isFalse();
        assertThat(Delivery.isStill(Path.of("out/pilot_v003_still.glb")))
                .as("a clip called still")
                .isFalse();
        assertThat(Delivery.isStill(Path.of("out/pilot_still_v003.glb"))).isFalse();
    }
}
