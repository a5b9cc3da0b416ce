package org.cleanmarrow.desktop.station;

import java.util.Locale;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.asset.Mesh;
import org.cleanmarrow.demo.fault.PlantedFault;
import org.cleanmarrow.demo.pilot.FerryPilot;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.parts.FileDialogs;
import org.cleanmarrow.desktop.parts.Parts;
import org.cleanmarrow.desktop.text.Words;

/** What came in. */
final class IntakeCard extends StationCard {
    private final FileDialogs dialogs;

    IntakeCard(Desk desk, FileDialogs dialogs) {
        super(desk);
        this.dialogs = dialogs;
    }

    @Override
    void fill() {
        Asset asset = desk.now();
        title("station.intake", Words.of("intake.what", asset.name()));
        getChildren()
                .add(Parts.row(
                        Parts.mainButton("open-file", "intake.open", dialogs::open),
                        Parts.button("open-newer", "intake.newer", dialogs::openNewer)));
        heading("intake.inside");
        fact("intake.meshes", number(asset.meshes().size()));
        fact(
                "intake.vertices",
                number(asset.meshes().stream().mapToInt(Mesh::vertexCount).sum()));
        fact(
                "intake.triangles",
                number(asset.meshes().stream().mapToInt(Mesh::triangleCount).sum()));
        fact("intake.joints", number(count(asset.jointFlags())));
        fact("intake.clips", number(asset.clips().size()));
        fact("intake.materials", number(asset.materials().size()));
        fact("intake.pictures", number(asset.images().size()));
        if (!asset.cameras().isEmpty()) {
            fact("intake.cameras", number(asset.cameras().size()));
        }
        if (!asset.notes().isEmpty()) {
            heading("intake.notes");
            asset.notes().forEach(n -> getChildren().add(Parts.sentence(n)));
        }
        if (desk.isDemo()) {
            heading("intake.planted");
            sentence("intake.planted.why");
            for (PlantedFault fault : FerryPilot.faults()) {
                String many = fault.count() > 1
                        ? Words.of("intake.planted.many", fault.where(), fault.count())
                        : fault.where();
                getChildren().add(Parts.sentence("· " + many));
            }
        }
    }

    private static int count(boolean[] flags) {
        int n = 0;
        for (boolean flag : flags) {
            n += flag ? 1 : 0;
        }
        return n;
    }

    private static String number(int n) {
        return String.format(Locale.ROOT, "%,d", n);
    }
}
