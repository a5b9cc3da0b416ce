package org.cleanmarrow.desktop.uv;

/**
 * Where the view looks: the place in its middle, and pixels for the whole width of the picture. v goes down, as on the screen.
 */
record UvCamera(double u, double v, double scale) {
    private static final double LEAST = 8;
    private static final double MOST = 1 << 20;
    private static final double MARGIN = 0.06;

    /** The whole picture, 0 to 1. */
    static final double[] PICTURE = {0, 0, 1, 1};

    /** Looks at a box: left, top, right, bottom. */
    static UvCamera framing(double[] box, double width, double height) {
        double wide = Math.max(box[2] - box[0], 1e-6) * (1 + 2 * MARGIN);
        double high = Math.max(box[3] - box[1], 1e-6) * (1 + 2 * MARGIN);
        double scale = Math.clamp(Math.min(width / wide, height / high), LEAST, MOST);
        return new UvCamera((box[0] + box[2]) / 2, (box[1] + box[3]) / 2, scale);
    }

    UvCamera panned(double dx, double dy) {
        return new UvCamera(u - dx / scale, v - dy / scale, scale);
    }

    /** Nearer or farther, with the place at a pixel kept there. */
    UvCamera zoomed(double factor, double x, double y, double width, double height) {
        double next = Math.clamp(scale * factor, LEAST, MOST);
        double keep = 1 / scale - 1 / next;
        return new UvCamera(u + (x - width / 2) * keep, v + (y - height / 2) * keep, next);
    }

    double x(double at, double width) {
        return (at - u) * scale + width / 2;
    }

    double y(double at, double height) {
        return (at - v) * scale + height / 2;
    }

    double uAt(double x, double width) {
        return (x - width / 2) / scale + u;
    }

    double vAt(double y, double height) {
        return (y - height / 2) / scale + v;
    }
}
