package org.cleanmarrow.formats.usd;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeSet;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.pose.Baker;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;
import org.jspecify.annotations.Nullable;

/**
 * Where a prim stands against its parent: its ordered operations, the first outermost. Those that are a shift, a turn and a size in that
 * order keep their own keys; any others are multiplied and taken apart at every one of their times.
 */
final class UsdXform {
    private final String file;
    private final UsdPrim prim;
    private final List<Op> ops = new ArrayList<>();
    private @Nullable String note;

    /** One operation. */
    private record Op(String kind, boolean inverse, UsdPrim.Property property) {}

    private UsdXform(UsdPrim prim, String file) {
        this.prim = prim;
        this.file = file;
    }

    static UsdXform of(UsdPrim prim, String file) throws ReadFailed {
        UsdXform out = new UsdXform(prim, file);
        for (String token : prim.words("xformOpOrder")) {
            if (token.equals("!resetXformStack!")) {
                out.note = prim.path + " stands apart from its parent there, and below it here.";
                continue;
            }
            boolean inverse = token.startsWith("!invert!");
            String name = inverse ? token.substring("!invert!".length()) : token;
            UsdPrim.Property p = prim.properties.get(name);
            String[] parts = name.split(":");
            if (p == null || parts.length < 2 || !parts[0].equals("xformOp")) {
                throw new ReadFailed(file, prim.path + ".xformOpOrder", "names " + name + ", which is not there");
            }
            out.ops.add(new Op(parts[1], inverse, p));
        }
        return out;
    }

    Optional<String> note() {
        return Optional.ofNullable(note);
    }

    /** Whether it is a shift, a turn and a size, each at most once, in that order. */
    private boolean isPlain() {
        List<String> order = List.of("translate", "orient", "scale");
        int last = -1;
        for (Op op : ops) {
            int at = order.indexOf(op.kind);
            if (at <= last || op.inverse) {
                return false;
            }
            last = at;
        }
        return true;
    }

    Local rest() throws ReadFailed {
        if (!isPlain()) {
            return local(matrix(null));
        }
        Vector3d t = new Vector3d();
        Quaterniond r = new Quaterniond();
        Vector3d s = new Vector3d(1);
        for (Op op : ops) {
            double[] v = numbers(op, UsdPrim.numbers(op.property.first()));
            switch (op.kind) {
                case "translate" -> t.set(v);
                case "scale" -> s.set(v);
                default -> r.set(v[1], v[2], v[3], v[0]);
            }
        }
        return Local.of(t, r, s);
    }

    static Local local(Matrix4d m) {
        return Baker.shear(m) < 1e-6 && Math.abs(m.determinant3x3()) > 1e-30 ? Baker.parts(m) : Local.ofMatrix(m);
    }

    List<Channel> channels(int node, double rate) throws ReadFailed {
        List<Channel> out = new ArrayList<>();
        if (ops.stream().allMatch(o -> o.property.samples.isEmpty())) {
            return out;
        }
        if (isPlain()) {
            for (Op op : ops) {
                if (!op.property.samples.isEmpty()) {
                    out.add(plain(node, op, rate));
                }
            }
            return out;
        }
        TreeSet<Double> codes = new TreeSet<>();
        ops.forEach(o -> codes.addAll(o.property.samples.keySet()));
        boolean turns = ops.stream().anyMatch(o -> o.kind.startsWith("rotate"));
        for (double f = Math.ceil(codes.first()); turns && f < codes.last() && codes.size() < 1 << 20; f++) {
            // Angles go straight between samples and turns do not: on every frame between they are looked at anew.
            codes.add(f);
        }
        float[] times = seconds(codes, rate);
        List<Local> at = new ArrayList<>();
        for (double code : codes) {
            at.add(Baker.parts(matrix(code)));
        }
        Local rest = rest();
        return Baker.channels(
                node, times, false, t -> at.get(Math.max(0, Arrays.binarySearch(times, (float) t))), rest);
    }

    private Channel plain(int node, Op op, double rate) throws ReadFailed {
        int width = op.kind.equals("orient") ? 4 : 3;
        float[] times = seconds(new TreeSet<>(op.property.samples.keySet()), rate);
        float[] values = new float[width * times.length];
        int k = 0;
        for (Map.Entry<Double, Object> sample : op.property.samples.entrySet()) {
            double[] v = numbers(op, UsdPrim.numbers(sample.getValue()));
            for (int i = 0; i < width; i++) {
                values[width * k + (width == 4 ? (i + 3) % 4 : i)] = (float) v[i];
            }
            k++;
        }
        if (width == 4) {
            Baker.alongTheShorterWay(values);
        }
        Channel.Path path = switch (op.kind) {
            case "translate" -> Channel.Path.TRANSLATION;
            case "scale" -> Channel.Path.SCALE;
            default -> Channel.Path.ROTATION;
        };
        Sampler keys = new Sampler(Sampler.Interpolation.LINEAR, times, values, width, Storage.FLOAT);
        return new Channel(node, path, keys, "", Passthrough.NONE);
    }

    /** Seconds of time codes, rising even where two fall on one float. */
    static float[] seconds(TreeSet<Double> codes, double rate) {
        float[] out = new float[codes.size()];
        int k = 0;
        for (double code : codes) {
            out[k] = (float) (code / rate);
            if (k > 0 && out[k] <= out[k - 1]) {
                out[k] = Math.nextUp(out[k - 1]);
            }
            k++;
        }
        return out;
    }

    /** @param code null: what holds without time */
    private Matrix4d matrix(@Nullable Double code) throws ReadFailed {
        Matrix4d out = new Matrix4d();
        for (Op op : ops) {
            double[] v = numbers(op, code == null ? UsdPrim.numbers(op.property.first()) : sampled(op, code));
            Matrix4d one = one(op, v);
            out.mul(op.inverse ? one.invert() : one);
        }
        return out;
    }

    private static double[] sampled(Op op, double code) {
        Map.Entry<Double, Object> before = op.property.samples.floorEntry(code);
        Map.Entry<Double, Object> after = op.property.samples.ceilingEntry(code);
        if (before == null && after == null) {
            return UsdPrim.numbers(op.property.value);
        }
        double[] a = UsdPrim.numbers((before == null ? after : before).getValue());
        double[] b = UsdPrim.numbers((after == null ? before : after).getValue());
        double share = before == null || after == null || after.getKey().equals(before.getKey())
                ? 0
                : (code - before.getKey()) / (after.getKey() - before.getKey());
        double[] out = a.clone();
        for (int i = 0; i < out.length && i < b.length; i++) {
            out[i] += share * (b[i] - a[i]);
        }
        return out;
    }

    private Matrix4d one(Op op, double[] v) throws ReadFailed {
        Matrix4d m = new Matrix4d();
        return switch (op.kind) {
            case "translate" -> m.translate(v[0], v[1], v[2]);
            case "scale" -> m.scale(v[0], v[1], v[2]);
            case "orient" -> m.rotate(new Quaterniond(v[1], v[2], v[3], v[0]).normalize());
            case "transform" -> m.set(v);
            case "rotateX" -> m.rotateX(Math.toRadians(v[0]));
            case "rotateY" -> m.rotateY(Math.toRadians(v[0]));
            case "rotateZ" -> m.rotateZ(Math.toRadians(v[0]));
            // Named by the order in which turns are done to a point: the first letter is innermost.
            case "rotateXYZ" -> turns(m, v, 2, 1, 0);
            case "rotateXZY" -> turns(m, v, 1, 2, 0);
            case "rotateYXZ" -> turns(m, v, 2, 0, 1);
            case "rotateYZX" -> turns(m, v, 0, 2, 1);
            case "rotateZXY" -> turns(m, v, 1, 0, 2);
            case "rotateZYX" -> turns(m, v, 0, 1, 2);
            default ->
                throw new ReadFailed(
                        file, prim.path + ".xformOpOrder", "has an operation that is not known: " + op.kind);
        };
    }

    private static Matrix4d turns(Matrix4d m, double[] degrees, int... order) {
        for (int axis : order) {
            m.rotate(Math.toRadians(degrees[axis]), axis == 0 ? 1 : 0, axis == 1 ? 1 : 0, axis == 2 ? 1 : 0);
        }
        return m;
    }

    private double[] numbers(Op op, double[] v) throws ReadFailed {
        int wanted = switch (op.kind) {
            case "transform" -> 16;
            case "orient" -> 4;
            case "rotateX", "rotateY", "rotateZ" -> 1;
            default -> 3;
        };
        if (v.length != wanted) {
            throw new ReadFailed(
                    file, prim.path + ".xformOp:" + op.kind, "has " + v.length + " numbers; expected " + wanted);
        }
        return v;
    }
}
