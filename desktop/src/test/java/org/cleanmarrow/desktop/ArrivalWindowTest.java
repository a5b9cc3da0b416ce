package org.cleanmarrow.desktop;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.List;
import javafx.scene.Node;
import javafx.scene.control.Label;
import org.cleanmarrow.demo.Demo;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.steps.scale.Convert;
import org.testng.annotations.Test;

/** What was delivered is looked at as the receiver takes it, beside the desk. */
public class ArrivalWindowTest extends DeskWindow {
    private List<String> said() throws Exception {
        Node box = find("#landing-said");
        return on(() ->
                box.lookupAll(".label").stream().map(l -> ((Label) l).getText()).toList());
    }

    private Path deliver() throws Exception {
        type("#delivery-folder", home.resolve("out").toString());
        press("#deliver");
        quiet();
        return on(() -> desk.lastDelivery().orElseThrow().files().getFirst());
    }

    @Test
    public void whatLandedStandsBesideTheDeskUnderTheTarget() throws Exception {
        on(() -> {
            desk.files().openDemo(Demo.named("bell-chain").orElseThrow());
            desk.station().set(Station.DELIVERY);
            return null;
        });
        quiet();
        Path unconverted = deliver();
        press("#landing-look");
        quiet();
        assertThat(on(() -> desk.beside().get().name()))
                .isEqualTo(unconverted.getFileName().toString());
        assertThat(on(() -> desk.otherSide().conventions()))
                .isEqualTo(on(() -> desk.target().get().conventions()));
        assertThat(on(() -> desk.seeing().divider().get())).isEqualTo(0.5);
        assertThat(said()).anyMatch(s -> s.contains("apart"));
        press("#landing-away");
        quiet();
        assertThat(on(() -> desk.beside().get())).isNull();
        assertThat(on(() -> desk.otherSide())).isSameAs(on(() -> desk.received()));
        assertThat(said()).isEmpty();
        apply(new Convert(on(() -> desk.target().get().conventions()), true));
        deliver();
        press("#landing-look");
        quiet();
        assertThat(said()).contains("As it was meant, for this receiver.").anyMatch(s -> s.startsWith("toll: frames"));
        // The first delivery beside this one: two deliveries compared.
        on(() -> {
            desk.files().land(List.of(unconverted), a -> {});
            return null;
        });
        quiet();
        assertThat(on(() -> desk.beside().get().name()))
                .isEqualTo(unconverted.getFileName().toString());
        // Another asset on the desk has nothing beside it.
        on(() -> {
            desk.files().openDemo(Demo.named("river-ice").orElseThrow());
            return null;
        });
        quiet();
        assertThat(on(() -> desk.beside().get())).isNull();
    }
}
