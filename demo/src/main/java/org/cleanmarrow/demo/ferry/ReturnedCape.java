package org.cleanmarrow.demo.ferry;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.cleanmarrow.caches.CacheBake;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.demo.fault.PlantedFault;
import org.cleanmarrow.demo.pilot.FerryPilot;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.usd.UsdReader;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.VertexTrack;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;

/**
 * The pilot's cape as it came back from a simulation over <i>hail</i>: in millimetres where its file says metres, 12 frames late because
 * it began at rest, its normals turned inwards and without a material. Opened beside the pilot its cache goes to the pilot's cape.
 */
public final class ReturnedCape {
    private static final String FILE = "returned-cape";
    private static final int LATE = 12;
    private static final int INWARDS = 1720;

    private ReturnedCape() {}

    public static List<PlantedFault> faults() {
        return List.of(
                new PlantedFault("size", "millimetres read as metres", 1),
                new PlantedFault("normals-away", "turned inwards; those along the rim look to no side", INWARDS));
    }

    /** As opening its file gives it. */
    public static Asset asset() {
        return Made.ASSET;
    }

    public static byte[] usd() {
        return Made.USD.clone();
    }

    /** Made when it is first asked for. */
    private static final class Made {
        static final byte[] USD;
        static final Asset ASSET;

        static {
            try {
                USD = AssetFiles.write(made(), "usda", FILE, Work.QUIET)
                        .pieces()
                        .getFirst()
                        .bytes();
                ASSET = UsdReader.read(USD, FILE + ".usda", null, Work.QUIET);
            } catch (Refused | ReadFailed e) {
                throw new IllegalStateException(e);
            }
        }
    }

    private static Asset made() throws Refused {
        Asset pilot = FerryPilot.asset();
        // Its hem follows nothing as received, and would lie at the origin.
        Finding strays = Checks.run(pilot, Target.of(pilot.conventions()), Work.QUIET).stream()
                .filter(f -> f.check().equals("strays"))
                .findFirst()
                .orElseThrow();
        pilot = strays.fix().orElseThrow().apply(pilot, Work.QUIET).asset();
        Deformer deformer = new Deformer(pilot);
        int m = pilot.findMesh("cape");
        MeshPlace place = deformer.places().stream()
                .filter(p -> p.mesh() == m)
                .findFirst()
                .orElseThrow();
        Clip hail = pilot.clips().get(pilot.findClip("hail"));
        Rig rig = new Rig(pilot);
        float[] rest = deformer.positions(place, rig.rest());
        float[] begin = deformer.positions(place, rig.at(hail, hail.start()));
        int frames = hail.lastFrame() - hail.firstFrame() + 1;
        float[] times = new float[LATE + frames];
        for (int k = 0; k < times.length; k++) {
            times[k] = (float) ((hail.firstFrame() + k) / hail.rate());
        }
        VertexTrack track =
                VertexTrack.of(times, CacheBake.frames(rest.length / 3, times.length, Work.QUIET, (k, out) -> {
                    double into = Math.min(1, k / (double) LATE);
                    float[] there = k < LATE
                            ? begin
                            : deformer.positions(place, rig.at(hail, hail.start() + (k - LATE) / hail.rate()));
                    for (int i = 0; i < out.length; i += 3) {
                        // What hangs swings a little after, the more the lower.
                        double below = Math.max(0, (140 - rest[i + 2]) / 80);
                        double sway = into * 2.5 * below * below * StrictMath.sin(0.35 * k - 2 * below);
                        out[i] = (float) (rest[i] + into * (there[i] - rest[i]));
                        out[i + 1] = (float) (rest[i + 1] + into * (there[i + 1] - rest[i + 1]) + sway);
                        out[i + 2] = (float) (rest[i + 2] + into * (there[i + 2] - rest[i + 2]));
                        millimetres(out, i);
                    }
                }));
        for (int i = 0; i < rest.length; i += 3) {
            millimetres(rest, i);
        }
        Channel channel = new Channel(0, Channel.Path.VERTICES, track, "", Passthrough.NONE);
        Clip clip = new Clip("hail_cloth", List.of(channel), hail.rate(), false, true, List.of(), Passthrough.NONE);
        return Asset.of(
                FILE,
                Conventions.GLTF,
                List.of(Node.group("cape", Local.IDENTITY).withMesh(0, -1)),
                List.of(bare(pilot.meshes().get(m), rest)),
                List.of(),
                List.of(clip));
    }

    /** From centimetres with Z up. */
    private static void millimetres(float[] p, int i) {
        float y = p[i + 1];
        p[i] *= 10;
        p[i + 1] = 10 * p[i + 2];
        p[i + 2] = -10 * y;
    }

    private static Mesh bare(Mesh cape, float[] rest) {
        List<Primitive> primitives = new ArrayList<>();
        int at = 0;
        for (Primitive p : cape.primitives()) {
            float[] positions = Arrays.copyOfRange(rest, at, at + p.positions().length);
            float[] normals = p.normals().clone();
            for (int i = 0; i < normals.length; i++) {
                normals[i] = -normals[i];
            }
            primitives.add(Primitive.triangles(p.triangleCorners(), positions, normals, -1)
                    .withAttributes(p.attributes()));
            at += positions.length;
        }
        return Mesh.of(cape.name(), primitives.toArray(Primitive[]::new));
    }
}
