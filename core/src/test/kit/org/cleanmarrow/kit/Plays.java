package org.cleanmarrow.kit;

import static org.assertj.core.api.Assertions.assertThat;

import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.pose.Rig;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/** What clips make of an asset. */
public final class Plays {
    private Plays() {}

    /** Holds that all nodes stand alike at a moment of each of two clips, to what float32 holds of their places. */
    public static void alike(Asset was, Clip a, double seconds, Asset is, Clip b, double other) {
        Matrix4d[] x = new Rig(was).at(a, seconds).world();
        Matrix4d[] y = new Rig(is).at(b, other).world();
        for (int n = 0; n < x.length; n++) {
            double far = x[n].getTranslation(new Vector3d()).length();
            assertThat(x[n].equals(y[n], 2e-4 * (1 + far)))
                    .as("%s node %d at %f", a.name(), n, seconds)
                    .isTrue();
        }
    }
}
