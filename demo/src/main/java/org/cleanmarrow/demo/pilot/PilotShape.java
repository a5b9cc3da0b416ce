package org.cleanmarrow.demo.pilot;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.demo.shape.Field;
import org.cleanmarrow.demo.shape.Shell;
import org.cleanmarrow.demo.shape.SurfaceNets;
import org.joml.Vector3d;

/** The pilot's surfaces: each piece of body and clothing as a shell of its own with one colour. */
final class PilotShape {
    /** One shell with its colour and the joints that may move it. */
    record Piece(String name, Shell shell, Palette.Swatch swatch, List<String> joints) {}

    private final PilotJoints joints;
    private final List<Piece> pieces = new ArrayList<>();
    private Field jumper;

    PilotShape(PilotJoints joints) {
        this.joints = joints;
        jumper();
        trousers();
        for (int side = 1; side >= -1; side -= 2) {
            boot(side);
            hand(side);
            eye(side);
        }
        head();
        hat();
        scarf();
        satchel();
        strap();
    }

    List<Piece> pieces() {
        return pieces;
    }

    private void add(String name, Shell shell, Palette.Swatch swatch, String... moved) {
        pieces.add(new Piece(name, shell, swatch, List.of(moved)));
    }

    private static Vector3d v(double x, double y, double z) {
        return new Vector3d(x, y, z);
    }

    private void jumper() {
        Field torso = Field.ellipsoid(0, 1.29, -0.005, 0.168, 0.20, 0.122)
                .with(Field.ellipsoid(0, 1.06, 0.005, 0.148, 0.19, 0.118), 0.08)
                .with(Field.limb(v(-0.13, 1.40, -0.015), v(0.13, 1.40, -0.015), 0.068, 0.068), 0.07)
                .with(Field.ellipsoid(0, 1.44, -0.01, 0.078, 0.06, 0.075), 0.05);
        for (int side = 1; side >= -1; side -= 2) {
            String s = PilotJoints.side(side);
            Vector3d shoulder = joints.at(s + "upper_arm");
            Vector3d elbow = joints.at(s + "forearm");
            Vector3d wrist = joints.at(s + "hand");
            Vector3d cuff = new Vector3d(elbow).lerp(wrist, 0.93);
            Vector3d along = new Vector3d(wrist).sub(elbow);
            Field arm = Field.limb(shoulder, elbow, 0.066, 0.053)
                    .with(Field.limb(elbow, cuff, 0.052, 0.040), 0.03)
                    .with(Field.ring(cuff, along, 0.033, 0.013), 0.015)
                    .with(Field.ring(new Vector3d(elbow).lerp(shoulder, 0.12), along, 0.045, 0.010), 0.03);
            torso = torso.with(arm, 0.055);
        }
        Field hem = Field.ring(v(0, 0.945, 0.005), v(0, 1, 0), 0.118, 0.026);
        jumper = torso.above(0.93, 0.03).with(hem, 0.03);
        // The open neck and the cuffs are closed and lie under scarf and hands.
        add(
                "jumper",
                SurfaceNets.of(jumper, v(-0.64, 0.86, -0.2), v(0.64, 1.56, 0.26), 0.0255),
                Palette.Swatch.WOOL,
                "hips",
                "waist",
                "ribs_lower",
                "ribs_upper",
                "neck",
                "left_collar",
                "left_upper_arm",
                "left_arm_twist",
                "left_forearm",
                "right_collar",
                "right_upper_arm",
                "right_arm_twist",
                "right_forearm");
    }

    private void trousers() {
        Field field = Field.ellipsoid(0, 0.93, 0, 0.148, 0.12, 0.115);
        for (int side = 1; side >= -1; side -= 2) {
            String s = PilotJoints.side(side);
            Vector3d hip = joints.at(s + "thigh").add(0, -0.02, 0);
            Vector3d knee = joints.at(s + "shin");
            Vector3d ankle = joints.at(s + "foot").add(0, 0.12, 0);
            Field leg = Field.limb(hip, knee, 0.094, 0.066).with(Field.limb(knee, ankle, 0.064, 0.058), 0.04);
            field = field.with(leg, 0.05);
        }
        add(
                "trousers",
                SurfaceNets.of(field.below(1.0, 0.03), v(-0.26, 0.10, -0.2), v(0.26, 1.06, 0.2), 0.0260),
                Palette.Swatch.CANVAS,
                "hips",
                "left_thigh",
                "left_shin",
                "right_thigh",
                "right_shin");
    }

    private void boot(int side) {
        String s = PilotJoints.side(side);
        Vector3d ankle = joints.at(s + "foot");
        Vector3d toes = joints.at(s + "toes");
        Vector3d shin = new Vector3d(ankle).lerp(joints.at(s + "shin"), 0.62);
        Field boot = Field.limb(new Vector3d(ankle).add(0, 0.01, 0), shin, 0.058, 0.076)
                .with(Field.limb(new Vector3d(ankle).add(0, -0.03, -0.012), toes, 0.055, 0.048), 0.05)
                .with(Field.limb(toes, joints.at(s + "toes_end").add(0, 0.008, -0.03), 0.046, 0.038), 0.03)
                .with(Field.ring(shin, new Vector3d(shin).sub(ankle), 0.070, 0.013), 0.012)
                .below(0.355, 0.01)
                .above(0.0, 0.012);
        add(
                s + "boot",
                SurfaceNets.of(boot, v(ankle.x - 0.13, -0.03, -0.14), v(ankle.x + 0.13, 0.40, 0.28), 0.0200),
                Palette.Swatch.RUBBER,
                s + "shin",
                s + "foot",
                s + "toes");
    }

    private void hand(int side) {
        String s = PilotJoints.side(side);
        Vector3d wrist = joints.at(s + "hand");
        Vector3d elbow = joints.at(s + "forearm");
        Field hand = Field.limb(new Vector3d(elbow).lerp(wrist, 0.90), wrist, 0.027, 0.026);
        String[] fingers = {"index", "middle", "ring", "little"};
        for (String finger : fingers) {
            Vector3d root = joints.at(s + finger + "_1");
            hand = hand.with(
                    Field.limb(
                            new Vector3d(wrist).lerp(root, 0.22), new Vector3d(wrist).lerp(root, 0.97), 0.0175, 0.0138),
                    0.016);
        }
        List<String> moved = new ArrayList<>(List.of(s + "forearm", s + "hand"));
        double[] widths = {0.0118, 0.0103, 0.0105, 0.0100, 0.0088};
        String[] all = {"thumb", "index", "middle", "ring", "little"};
        for (int f = 0; f < all.length; f++) {
            Field bones = null;
            for (int i = 1; i <= 3; i++) {
                Vector3d a = joints.at(s + all[f] + "_" + i);
                Vector3d b = i < 3 ? joints.at(s + all[f] + "_" + (i + 1)) : joints.at(s + all[f] + "_end");
                double r = widths[f] * (1 - 0.07 * i);
                Field bone = Field.limb(a, b, r * 1.06, r * (i == 3 ? 0.86 : 1));
                bones = bones == null ? bone : bones.with(bone, 0.004);
                moved.add(s + all[f] + "_" + i);
            }
            if (f == 0) {
                bones = bones.with(
                        Field.limb(
                                new Vector3d(wrist).lerp(joints.at(s + "thumb_1"), 0.3),
                                joints.at(s + "thumb_2"),
                                0.016,
                                0.0125),
                        0.01);
            }
            hand = hand.with(bones, f == 0 ? 0.014 : 0.006);
        }
        Vector3d tip = joints.at(s + "middle_end");
        Vector3d min = new Vector3d(wrist).min(tip).sub(0.11, 0.10, 0.11);
        Vector3d max = new Vector3d(wrist).max(tip).add(0.11, 0.08, 0.11);
        add(s + "hand", SurfaceNets.of(hand, min, max, 0.0086), Palette.Swatch.SKIN, moved.toArray(String[]::new));
    }

    private void head() {
        Field head = Field.ellipsoid(0, 1.635, -0.002, 0.076, 0.105, 0.094)
                .with(Field.ellipsoid(0, 1.568, 0.026, 0.055, 0.062, 0.062), 0.05)
                .with(Field.ellipsoid(0, 1.530, 0.052, 0.030, 0.022, 0.026), 0.035)
                .with(Field.limb(v(0, 1.42, -0.02), v(0, 1.56, -0.008), 0.056, 0.052), 0.03)
                .with(Field.limb(v(-0.034, 1.636, 0.079), v(-0.012, 1.634, 0.088), 0.010, 0.009), 0.02)
                .with(Field.limb(v(0.034, 1.636, 0.079), v(0.012, 1.634, 0.088), 0.010, 0.009), 0.02)
                .with(Field.sphere(-0.038, 1.585, 0.062, 0.026), 0.04)
                .with(Field.sphere(0.038, 1.585, 0.062, 0.026), 0.04)
                .without(Field.sphere(-0.031, 1.614, 0.098, 0.017), 0.020)
                .without(Field.sphere(0.031, 1.614, 0.098, 0.017), 0.020)
                .with(Field.limb(v(0, 1.624, 0.090), v(0, 1.588, 0.112), 0.0085, 0.0125), 0.015)
                .with(Field.sphere(-0.0115, 1.584, 0.100, 0.0085), 0.010)
                .with(Field.sphere(0.0115, 1.584, 0.100, 0.0085), 0.010)
                .with(Field.ellipsoid(-0.079, 1.606, -0.004, 0.010, 0.030, 0.018), 0.010)
                .with(Field.ellipsoid(0.079, 1.606, -0.004, 0.010, 0.030, 0.018), 0.010)
                .with(Field.limb(v(-0.020, 1.545, 0.080), v(0.020, 1.545, 0.080), 0.009, 0.009), 0.018);
        add(
                "head",
                SurfaceNets.of(head, v(-0.13, 1.38, -0.13), v(0.13, 1.77, 0.16), 0.0114),
                Palette.Swatch.SKIN,
                "ribs_upper",
                "neck",
                "head");
        Field lips = Field.limb(v(-0.017, 1.5495, 0.0875), v(0.017, 1.5495, 0.0875), 0.0045, 0.0045)
                .with(Field.limb(v(-0.013, 1.5415, 0.0870), v(0.013, 1.5415, 0.0870), 0.0050, 0.0050), 0.002);
        add(
                "lips",
                SurfaceNets.of(lips, v(-0.03, 1.53, 0.07), v(0.03, 1.56, 0.105), 0.0052),
                Palette.Swatch.LIPS,
                "head");
        Field beard = Field.ellipsoid(0, 1.518, 0.050, 0.050, 0.036, 0.042)
                .with(Field.limb(v(-0.056, 1.585, 0.018), v(-0.036, 1.530, 0.048), 0.014, 0.018), 0.02)
                .with(Field.limb(v(0.056, 1.585, 0.018), v(0.036, 1.530, 0.048), 0.014, 0.018), 0.02)
                .with(Field.limb(v(-0.026, 1.553, 0.084), v(-0.004, 1.566, 0.097), 0.0060, 0.0072), 0.008)
                .with(Field.limb(v(0.026, 1.553, 0.084), v(0.004, 1.566, 0.097), 0.0060, 0.0072), 0.008)
                .without(Field.limb(v(-0.014, 1.546, 0.099), v(0.014, 1.546, 0.099), 0.011, 0.011), 0.006);
        add(
                "beard",
                SurfaceNets.of(beard, v(-0.09, 1.46, -0.02), v(0.09, 1.61, 0.13), 0.0120),
                Palette.Swatch.HAIR,
                "head");
        Field hair = Field.ellipsoid(0, 1.628, -0.024, 0.084, 0.100, 0.086)
                .without(Field.box(0, 1.60, 0.09, 0.12, 0.15, 0.088, 0.01), 0.015)
                .above(1.555, 0.02);
        add(
                "hair",
                SurfaceNets.of(hair, v(-0.13, 1.52, -0.15), v(0.13, 1.76, 0.08), 0.0170),
                Palette.Swatch.HAIR,
                "head");
        for (int side = -1; side <= 1; side += 2) {
            Field brow = Field.limb(v(side * 0.048, 1.638, 0.078), v(side * 0.014, 1.641, 0.0955), 0.0045, 0.0062);
            Vector3d min = v(Math.min(side * 0.06, side * 0.004), 1.62, 0.065);
            Vector3d max = v(Math.max(side * 0.06, side * 0.004), 1.66, 0.11);
            add("brow", SurfaceNets.of(brow, min, max, 0.0058), Palette.Swatch.HAIR, "head");
        }
    }

    private void eye(int side) {
        Vector3d centre = v(side * 0.031, 1.614, 0.0775);
        double[] angles = {0, 10, 24, 26, 45, 70, 100, 140};
        Palette.Swatch[] bands = {Palette.Swatch.PUPIL, Palette.Swatch.IRIS, Palette.Swatch.EYE};
        int[][] rows = {{0, 1}, {1, 2}, {3, 7}};
        for (int b = 0; b < bands.length; b++) {
            Shell shell = new Shell();
            int around = 14;
            for (int row = rows[b][0]; row <= rows[b][1]; row++) {
                double polar = Math.toRadians(row == 3 ? angles[2] : angles[row]);
                for (int i = 0; i < around; i++) {
                    double turn = 2 * Math.PI * i / around;
                    Vector3d n = v(
                            StrictMath.sin(polar) * StrictMath.cos(turn),
                            StrictMath.sin(polar) * StrictMath.sin(turn),
                            StrictMath.cos(polar));
                    shell.add(new Vector3d(centre).fma(0.0150, n), n);
                }
            }
            for (int row = 0; row < rows[b][1] - rows[b][0]; row++) {
                for (int i = 0; i < around; i++) {
                    int j = (i + 1) % around;
                    int a = row * around;
                    if (row == 0 && b == 0) {
                        shell.triangles.add(new int[] {i == 0 ? 0 : a, a + around + i, a + around + j});
                    } else {
                        shell.quad(a + i, a + around + i, a + around + j, a + j);
                    }
                }
            }
            add("eye", shell, bands[b], "head");
        }
    }

    /** A sou'wester: a round crown and a brim that is longer and lower behind, with an underside. */
    private void hat() {
        int around = 44;
        int crown = 7;
        int brim = 4;
        Shell shell = new Shell();
        int rings = crown + 2 * brim;
        for (int r = 0; r < rings; r++) {
            for (int i = 0; i < around; i++) {
                shell.add(hatPoint(r, crown, brim, 2 * Math.PI * i / around), new Vector3d());
            }
        }
        int top = shell.add(v(0, 1.764, -0.012), new Vector3d());
        for (int i = 0; i < around; i++) {
            int j = (i + 1) % around;
            shell.triangles.add(new int[] {top, j, i});
            for (int r = 0; r + 1 < rings; r++) {
                shell.quad(r * around + i, r * around + j, (r + 1) * around + j, (r + 1) * around + i);
            }
        }
        add("hat", shell.smoothNormals(), Palette.Swatch.OILSKIN, "head");
        Field band = Field.ring(v(0, 1.682, -0.012), v(0, 1, 0), 0.0965, 0.0062);
        Field ribbon = (x, y, z) -> band.at(x, y, (z + 0.012) * 0.86 - 0.012);
        add(
                "hat band",
                SurfaceNets.of(ribbon, v(-0.13, 1.65, -0.16), v(0.13, 1.71, 0.13), 0.0100),
                Palette.Swatch.LEATHER,
                "head");
    }

    private static Vector3d hatPoint(int ring, int crown, int brim, double angle) {
        double c = StrictMath.cos(angle);
        double s = StrictMath.sin(angle);
        if (ring < crown) {
            double polar = Math.PI / 2 * (ring + 0.6) / (crown - 0.4);
            double r = StrictMath.sin(polar);
            return v(0.095 * r * c, 1.674 + 0.090 * StrictMath.cos(polar), -0.012 + 0.113 * r * s);
        }
        int step = ring - crown;
        boolean under = step >= brim;
        double out = under ? (2 * brim - 1 - step) / (brim - 1.0) : (step + 1) / (double) brim;
        // Behind (s below zero) the brim reaches farther and hangs lower.
        double back = Math.max(0, -s);
        double wide = 0.046 + 0.042 * back * back;
        double drop = 0.012 + 0.040 * back * back - 0.016 * Math.max(0, s);
        double thick = under ? 0.007 * (out < 1 ? 1 : 0.6) : 0;
        return v((0.095 + wide * out) * c, 1.674 - drop * out * out - thick, -0.012 + (0.113 + wide * out) * s);
    }

    private void scarf() {
        Field wrap = Field.ring(v(0, 1.452, -0.008), v(0.05, 1, 0.22), 0.066, 0.026)
                .with(Field.ring(v(0, 1.480, -0.004), v(-0.08, 1, 0.16), 0.060, 0.020), 0.012);
        Field tail = Field.limb(v(0.045, 1.44, 0.085), v(0.060, 1.27, 0.135), 0.026, 0.030);
        Field flat = (x, y, z) -> tail.at(x, y, 0.11 + (z - 0.11 + (y - 1.355) * 0.28) * 1.9) * 0.6;
        add(
                "scarf",
                SurfaceNets.of(wrap.with(flat, 0.02), v(-0.14, 1.20, -0.14), v(0.16, 1.53, 0.22), 0.0175),
                Palette.Swatch.SCARF,
                "ribs_upper",
                "neck",
                "scarf_tail");
    }

    private void satchel() {
        Field bag = Field.box(-0.222, 0.875, 0.015, 0.036, 0.085, 0.105, 0.018);
        Field flap = Field.box(-0.232, 0.915, 0.015, 0.036, 0.055, 0.110, 0.016);
        Field buckle = Field.box(-0.270, 0.868, 0.015, 0.006, 0.014, 0.012, 0.004);
        add(
                "satchel",
                SurfaceNets.of(bag.with(flap, 0.006), v(-0.30, 0.75, -0.13), v(-0.15, 1.0, 0.16), 0.0170),
                Palette.Swatch.LEATHER,
                "hips");
        add(
                "buckle",
                SurfaceNets.of(buckle, v(-0.29, 0.845, -0.01), v(-0.255, 0.89, 0.04), 0.0080),
                Palette.Swatch.BRASS,
                "hips");
    }

    /** A band that goes over the left shoulder and under the right arm, lying on the jumper all the way round. */
    private void strap() {
        Vector3d high = v(0.105, 1.47, -0.01);
        Vector3d low = v(-0.215, 0.955, 0.015);
        Vector3d centre = new Vector3d(high).lerp(low, 0.5);
        Vector3d up = new Vector3d(high).sub(centre).normalize();
        Vector3d front = v(0, 0, 1);
        Vector3d across = new Vector3d(up).cross(front).normalize();
        int around = 103;
        Shell shell = new Shell();
        for (int i = 0; i < around; i++) {
            double angle = 2 * Math.PI * i / around;
            Vector3d out = new Vector3d(up)
                    .mul(StrictMath.cos(angle))
                    .fma(StrictMath.sin(angle), front)
                    .normalize();
            double[] reach = {reach(centre, across, out, -0.018), reach(centre, across, out, 0.018)};
            for (int corner = 0; corner < 4; corner++) {
                int edge = corner == 0 || corner == 3 ? 0 : 1;
                double lift = corner < 2 ? 0.0085 : 0.0025;
                Vector3d p = new Vector3d(centre)
                        .fma(edge == 0 ? -0.018 : 0.018, across)
                        .fma(reach[edge] + lift, out);
                shell.add(p, new Vector3d());
            }
        }
        for (int i = 0; i < around; i++) {
            int a = i * 4;
            int b = (i + 1) % around * 4;
            for (int corner = 0; corner < 4; corner++) {
                int next = (corner + 1) % 4;
                shell.quad(a + corner, b + corner, b + next, a + next);
            }
        }
        add(
                "strap",
                shell.smoothNormals(),
                Palette.Swatch.STRAP,
                "hips",
                "waist",
                "ribs_lower",
                "ribs_upper",
                "left_collar");
    }

    /** Distance along a ray from inside the jumper to its surface, or to the satchel at the hip. */
    private double reach(Vector3d centre, Vector3d across, Vector3d out, double aside) {
        Vector3d p = new Vector3d(centre).fma(aside, across);
        double from = 0;
        double to = 0.5;
        for (double d = 0.02; d < to; d += 0.004) {
            Vector3d q = new Vector3d(p).fma(d, out);
            if (jumper.at(q.x, q.y, q.z) > 0) {
                from = d - 0.004;
                to = d;
            }
        }
        for (int i = 0; i < 24; i++) {
            double middle = (from + to) / 2;
            Vector3d q = new Vector3d(p).fma(middle, out);
            if (jumper.at(q.x, q.y, q.z) > 0) {
                to = middle;
            } else {
                from = middle;
            }
        }
        return from;
    }

    /** The oilskin cape: hangs from the shoulders behind the back, both sides, in soft folds. */
    static Shell cape() {
        int across = 31;
        int down = 30;
        Shell shell = new Shell();
        Vector3d[][] middle = new Vector3d[down][across];
        for (int j = 0; j < down; j++) {
            double t = j / (down - 1.0);
            for (int i = 0; i < across; i++) {
                middle[j][i] = capePoint(2.0 * i / (across - 1) - 1, t);
            }
        }
        int[][][] number = new int[2][down][across];
        for (int face = 0; face < 2; face++) {
            for (int j = 0; j < down; j++) {
                for (int i = 0; i < across; i++) {
                    Vector3d n = capeNormal(middle, j, i);
                    number[face][j][i] =
                            shell.add(new Vector3d(middle[j][i]).fma(face == 0 ? 0.003 : -0.003, n), new Vector3d());
                }
            }
        }
        for (int j = 0; j + 1 < down; j++) {
            for (int i = 0; i + 1 < across; i++) {
                shell.quad(number[0][j][i], number[0][j][i + 1], number[0][j + 1][i + 1], number[0][j + 1][i]);
                shell.quad(number[1][j][i], number[1][j + 1][i], number[1][j + 1][i + 1], number[1][j][i + 1]);
            }
        }
        for (int j = 0; j + 1 < down; j++) {
            int last = across - 1;
            shell.quad(number[0][j][0], number[0][j + 1][0], number[1][j + 1][0], number[1][j][0]);
            shell.quad(number[0][j][last], number[1][j][last], number[1][j + 1][last], number[0][j + 1][last]);
        }
        for (int i = 0; i + 1 < across; i++) {
            int last = down - 1;
            shell.quad(number[0][0][i], number[1][0][i], number[1][0][i + 1], number[0][0][i + 1]);
            shell.quad(number[0][last][i], number[0][last][i + 1], number[1][last][i + 1], number[1][last][i]);
        }
        return shell.smoothNormals();
    }

    private static Vector3d capePoint(double s, double t) {
        double fall = t < 0.16 ? t / 0.16 : 1;
        double over = 1 - (1 - fall) * (1 - fall);
        double width = 0.155 + 0.075 * over + 0.11 * t;
        double x = s * width;
        // Over the shoulders it bends forward at the sides, lower down it hangs free.
        double wrap = (1 - t) * (1 - t) * s * s * 0.075;
        double z = -0.058 - 0.090 * over - 0.125 * t + wrap;
        double fold = (0.004 + 0.030 * t) * StrictMath.cos(s * Math.PI * 4.5) * over;
        double y = 1.462 - 0.028 * over - 0.050 * s * s * (1 - 0.6 * t) - 0.80 * t;
        return new Vector3d(x, y, z - fold);
    }

    private static Vector3d capeNormal(Vector3d[][] p, int j, int i) {
        Vector3d along = new Vector3d(p[Math.min(j + 1, p.length - 1)][i]).sub(p[Math.max(j - 1, 0)][i]);
        Vector3d across = new Vector3d(p[j][Math.min(i + 1, p[0].length - 1)]).sub(p[j][Math.max(i - 1, 0)]);
        return across.cross(along).normalize();
    }

    /** The hand lantern, standing below the point it is held at. */
    static List<Piece> lantern(Vector3d grip) {
        List<Piece> out = new ArrayList<>();
        Vector3d foot = new Vector3d(grip).sub(0, 0.300, 0);
        out.add(new Piece(
                "base",
                Shell.turned(foot, 20, 0.001, 0, 0.052, 0, 0.052, 0.022, 0.040, 0.034, 0.001, 0.034),
                Palette.Swatch.BRASS,
                List.of()));
        out.add(new Piece(
                "glass",
                Shell.turned(foot, 20, 0.030, 0.034, 0.038, 0.070, 0.038, 0.110, 0.030, 0.145),
                Palette.Swatch.GLASS,
                List.of()));
        out.add(new Piece(
                "flame",
                Shell.turned(foot, 10, 0.001, 0.040, 0.009, 0.060, 0.007, 0.085, 0.001, 0.110),
                Palette.Swatch.FLAME,
                List.of()));
        out.add(new Piece(
                "cap",
                Shell.turned(
                        foot, 20, 0.001, 0.145, 0.046, 0.145, 0.044, 0.156, 0.018, 0.192, 0.014, 0.206, 0.001, 0.208),
                Palette.Swatch.BRASS,
                List.of()));
        Field handle = Field.ring(new Vector3d(foot).add(0, 0.228, 0), v(0, 0, 1), 0.062, 0.0045);
        Vector3d c = new Vector3d(foot).add(0, 0.228, 0);
        out.add(new Piece(
                "handle",
                SurfaceNets.of(
                        handle, new Vector3d(c).sub(0.08, 0.08, 0.02), new Vector3d(c).add(0.08, 0.08, 0.02), 0.006),
                Palette.Swatch.BRASS,
                List.of()));
        return out;
    }
}
