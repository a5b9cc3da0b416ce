package org.cleanmarrow.desktop.viewport;

import org.joml.Vector3d;

/** How the asset is seen at the moment: where from, how it is posed, and how large the picture is. */
record Sight(Camera camera, Picker picker, double width, double height) {
    Camera.Ray ray(double x, double y) {
        return camera.ray(x, y, width, height);
    }

    /** Where a place lies in the picture; z below zero where it is behind. */
    Vector3d toPicture(Vector3d place) {
        return camera.toPicture(place, width, height);
    }

    /** What lies under the pointer as far off as a place, on a plane that faces the eye. */
    Vector3d beside(Vector3d place, double x, double y) {
        Vector3d away = towards();
        Camera.Ray ray = ray(x, y);
        double along = new Vector3d(place).sub(ray.origin()).dot(away)
                / ray.direction().dot(away);
        return new Vector3d(ray.origin()).fma(along, ray.direction());
    }

    /** The direction that the eye looks in. */
    Vector3d towards() {
        return new Vector3d(ray(width / 2, height / 2).direction());
    }
}
