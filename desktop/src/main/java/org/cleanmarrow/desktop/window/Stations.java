package org.cleanmarrow.desktop.window;

import java.util.List;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.station.StationDef;
import org.cleanmarrow.desktop.station.caches.CachesStation;
import org.cleanmarrow.desktop.station.collision.CollisionStation;
import org.cleanmarrow.desktop.station.delivery.DeliveryStation;
import org.cleanmarrow.desktop.station.intake.IntakeStation;
import org.cleanmarrow.desktop.station.motion.MotionStation;
import org.cleanmarrow.desktop.station.scale.ScaleStation;
import org.cleanmarrow.desktop.station.skeleton.SkeletonStation;
import org.cleanmarrow.desktop.station.skin.SkinStation;
import org.cleanmarrow.desktop.viewport.ViewportPane;
import org.cleanmarrow.desktop.widgets.FileDialogs;
import org.cleanmarrow.examination.Station;

/** All stations, a line each. */
final class Stations {
    private final List<StationDef> all;

    Stations(Desk desk, ViewportPane viewport, FileDialogs dialogs) {
        all = List.of(
                new IntakeStation(desk, viewport, dialogs),
                new ScaleStation(desk, viewport),
                new SkeletonStation(desk, dialogs),
                new SkinStation(desk, viewport),
                new MotionStation(desk),
                new CachesStation(desk, viewport),
                new CollisionStation(desk),
                new DeliveryStation(desk, dialogs));
    }

    List<StationDef> all() {
        return all;
    }

    StationDef of(Station station) {
        return all.stream().filter(s -> s.station() == station).findFirst().orElseThrow();
    }
}
