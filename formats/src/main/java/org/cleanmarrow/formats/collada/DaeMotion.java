package org.cleanmarrow.formats.collada;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeSet;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.xml.XmlNode;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.pose.Baker;
import org.joml.Matrix4d;

/**
 * Animation of one node: curves on the numbers of its transforms become keys of translation, rotation and scale. Where
 * keys alone would not follow the curves, because they bend or turn far, keys are added thirty times a second.
 */
final class DaeMotion {
    private static final double FINE = 1 / 30.0;
    /** How near straight lines keep to a curve, as a share of how far the node goes. */
    private static final double STRAIGHT = 1e-5;

    private boolean straightened;
    private static final int MOST_KEYS = 2_000_000;

    private final DaeTransform transform;
    private final List<Track> tracks = new ArrayList<>();

    /** A curve on some numbers of one part: component c of the curve goes to place {@code places[c]}. */
    private record Track(DaeCurve curve, int part, int[] places) {}

    DaeMotion(DaeTransform transform) {
        this.transform = transform;
    }

    /**
     * Adds the curve of a channel.
     *
     * @param path what stands behind the node's id in the target, such as {@code rotateX.ANGLE}
     * @return false where the node has no such transform
     */
    boolean add(String path, DaeCurve curve, XmlNode channel) throws ReadFailed {
        int mark = 0;
        while (mark < path.length() && path.charAt(mark) != '.' && path.charAt(mark) != '(') {
            mark++;
        }
        int part = transform.find(path.substring(0, mark));
        if (part < 0) {
            return false;
        }
        String member = path.substring(mark);
        int width = transform.parts().get(part).values().length;
        int[] places;
        if (member.isEmpty()) {
            places = new int[Math.min(width, curve.width())];
            Arrays.setAll(places, i -> i);
        } else {
            places = new int[] {place(member, transform.parts().get(part).kind(), channel)};
        }
        if (Arrays.stream(places).anyMatch(p -> p < 0 || p >= width)) {
            throw channel.wrong("animates " + path + ", which that transform does not have");
        }
        tracks.add(new Track(curve, part, places));
        return true;
    }

    private static int place(String member, String kind, XmlNode channel) throws ReadFailed {
        if (member.startsWith("(")) {
            String[] numbers = member.replaceAll("[()]", " ").strip().split("\\s+");
            try {
                int first = Integer.parseInt(numbers[0]);
                // Of a matrix (column)(row), and it is written row by row.
                return numbers.length == 1 ? first : Integer.parseInt(numbers[1]) * 4 + first;
            } catch (NumberFormatException e) {
                throw channel.wrong("expected numbers in " + member);
            }
        }
        return switch (member) {
            case ".X" -> 0;
            case ".Y" -> 1;
            case ".Z" -> 2;
            case ".ANGLE", ".W" -> kind.equals("rotate") ? 3 : -1;
            default -> -1;
        };
    }

    /**
     * The channels of the node.
     *
     * @param from first second that is wanted, and {@code to} the last
     */
    List<Channel> channels(int node, double from, double to) {
        if (tracks.isEmpty()) {
            return List.of();
        }
        float[] times = times(from, to);
        float[] places = new float[times.length * 3];
        float[] turns = new float[times.length * 4];
        float[] sizes = new float[times.length * 3];
        for (int k = 0; k < times.length; k++) {
            Local local = DaeTransform.local(at(times[k]));
            if (local.matrix() != null) {
                // Sheared or flat at this moment: the nearest that keys can hold.
                local = Baker.parts(local.toMatrix());
            }
            System.arraycopy(local.translation(), 0, places, k * 3, 3);
            System.arraycopy(local.rotation(), 0, turns, k * 4, 4);
            System.arraycopy(local.scale(), 0, sizes, k * 3, 3);
        }
        Baker.alongTheShorterWay(turns);
        List<Channel> out = new ArrayList<>();
        Local rest = DaeTransform.local(transform.matrix(transform.values()));
        boolean stepped = tracks.stream().allMatch(t -> t.curve.isStepped());
        Map<Channel.Path, float[]> all = new LinkedHashMap<>();
        all.put(Channel.Path.TRANSLATION, places);
        all.put(Channel.Path.ROTATION, turns);
        all.put(Channel.Path.SCALE, sizes);
        all.forEach((path, values) -> {
            if (animates(path) || differs(values, path, rest)) {
                Sampler sampler = new Sampler(
                        stepped ? Sampler.Interpolation.STEP : Sampler.Interpolation.LINEAR,
                        times,
                        values,
                        values.length / times.length,
                        Storage.FLOAT);
                out.add(new Channel(node, path, sampler, "", Passthrough.NONE));
            }
        });
        return out;
    }

    private boolean animates(Channel.Path path) {
        for (Track track : tracks) {
            String kind = transform.parts().get(track.part).kind();
            boolean own = switch (path) {
                case TRANSLATION -> kind.equals("translate") || kind.equals("matrix");
                case ROTATION -> kind.equals("rotate") || kind.equals("matrix");
                default -> kind.equals("scale");
            };
            if (own) {
                return true;
            }
        }
        return false;
    }

    private static boolean differs(float[] values, Channel.Path path, Local rest) {
        float[] still = switch (path) {
            case TRANSLATION -> rest.translation();
            case ROTATION -> rest.rotation();
            default -> rest.scale();
        };
        for (int i = 0; i < values.length; i++) {
            if (Math.abs(values[i] - still[i % still.length]) > 1e-6 * Math.max(1, Math.abs(still[i % still.length]))) {
                return true;
            }
        }
        return false;
    }

    private Matrix4d at(double seconds) {
        float[][] values = transform.values();
        for (Track track : tracks) {
            for (int c = 0; c < track.places.length; c++) {
                values[track.part][track.places[c]] = (float) track.curve.at(seconds, c);
            }
        }
        return transform.matrix(values);
    }

    private float[] times(double from, double to) {
        TreeSet<Float> keys = new TreeSet<>();
        boolean fine = false;
        int turning = 0;
        for (Track track : tracks) {
            for (float t : track.curve.times()) {
                if (t >= from && t <= to) {
                    keys.add(t);
                }
            }
            String kind = transform.parts().get(track.part).kind();
            turning += kind.equals("rotate") ? 1 : 0;
            fine |= !track.curve.isStraight() || kind.equals("rotate") && track.curve.largestStep() > 90;
        }
        double first =
                tracks.stream().mapToDouble(t -> t.curve.times()[0]).min().orElse(0);
        double last = tracks.stream()
                .mapToDouble(t -> t.curve.times()[t.curve.times().length - 1])
                .max()
                .orElse(0);
        keys.add((float) Math.max(from, Math.min(first, to)));
        keys.add((float) Math.min(to, Math.max(last, from)));
        if ((fine || turning > 1) && !tracks.stream().allMatch(t -> t.curve.isStepped())) {
            Float[] plain = keys.toArray(Float[]::new);
            for (int k = 1; k < plain.length && keys.size() < MOST_KEYS; k++) {
                int pieces =
                        (int) Math.min(MOST_KEYS / plain.length, Math.ceil((plain[k] - plain[k - 1]) / FINE - 1e-4));
                for (int i = 1; i < pieces; i++) {
                    keys.add(plain[k - 1] + (plain[k] - plain[k - 1]) * i / pieces);
                }
            }
            straightened = true;
            double reach = reach(keys);
            Baker.straighten(keys, t -> Baker.parts(at(t)), STRAIGHT * reach, reach);
        }
        float[] out = new float[keys.size()];
        int at = 0;
        for (float t : keys) {
            out[at++] = t;
        }
        return out;
    }

    /** True where curves or several turns were made many straight lines. */
    boolean straightened() {
        return straightened;
    }

    /** How far from its parent the node goes. */
    private double reach(TreeSet<Float> keys) {
        double far = 1e-3;
        for (float t : keys) {
            far = Math.max(far, at(t).getTranslation(new org.joml.Vector3d()).length());
        }
        return far;
    }
}
