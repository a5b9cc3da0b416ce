package org.cleanmarrow.pose;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.asset.Skin;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;

/** Where joints rest elsewhere than where their skin was bound. */
public final class RestAndBind {
    private RestAndBind() {}

    /**
     * One joint of one skin.
     *
     * @param metres  from where it was bound to where it rests; not a number where the bind cannot be inverted
     * @param degrees how far it is turned
     */
    public record Row(int skin, int node, double metres, double degrees) {}

    /** Joints that differ by more than a hundredth of a millimetre or of a degree, in the order of skins. */
    public static List<Row> of(Asset asset) {
        Matrix4d[] world = new Rig(asset).rest().world();
        double unit = asset.conventions().metresPerUnit();
        List<Row> out = new ArrayList<>();
        for (int s = 0; s < asset.skins().size(); s++) {
            Skin skin = asset.skins().get(s);
            for (int j = 0; j < skin.joints().length; j++) {
                Matrix4d bound = skin.inverseBind(j).invert();
                Matrix4d rests = world[skin.joints()[j]];
                double metres =
                        bound.getTranslation(new Vector3d()).distance(rests.getTranslation(new Vector3d())) * unit;
                Quaterniond a = bound.getUnnormalizedRotation(new Quaterniond()).normalize();
                Quaterniond b = rests.getUnnormalizedRotation(new Quaterniond()).normalize();
                Quaterniond between = a.conjugate().mul(b);
                double half = Math.sqrt(between.x * between.x + between.y * between.y + between.z * between.z);
                double degrees = Math.toDegrees(2 * Math.asin(Math.min(1, half)));
                if (!(metres <= 1e-5 && degrees <= 0.01)) {
                    out.add(new Row(s, skin.joints()[j], metres, degrees));
                }
            }
        }
        return out;
    }
}
