package org.cleanmarrow.bench;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.TreeMap;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.demo.ferry.LiftBridge;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.formats.bvh.BvhReader;
import org.cleanmarrow.formats.collada.ColladaReader;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.file.Written;
import org.cleanmarrow.formats.gltf.GltfReader;
import org.cleanmarrow.formats.obj.ObjReader;
import org.cleanmarrow.formats.ply.PlyReader;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;

/**
 * Files of every format with something broken in them, from a seed: each must open or be refused by a message, within two
 * seconds, and what opens must be checked and delivered without an exception.
 */
final class MutationBench {
    private static final long PATIENCE = 2_000_000_000L;

    private interface Reading {
        Asset read(byte[] bytes) throws ReadFailed;
    }

    private static final String MARKS = "0123456789-.{}[]<>\"\n ";

    private MutationBench() {}

    /** What came of it; {@code raw} are exceptions that were no message. */
    record Outcome(long opened, long delivered, long raw, String firstRaw, long slow, String firstSlow) {}

    static void run(Report report, int count) throws Exception {
        report.title(count + " mutated files, seed 20");
        Outcome found = outcome(count);
        report.note(found.opened + " opened and were checked, " + found.delivered
                + " delivered, the others refused by a message");
        report.none("exceptions", found.raw, found.firstRaw);
        report.none("over two seconds", found.slow, found.firstSlow);
    }

    static Outcome outcome(int count) throws Exception {
        Random random = new Random(20);
        Map<String, Reading> readers = new LinkedHashMap<>();
        readers.put("glb", b -> GltfReader.read(b, "m.glb", null, Work.QUIET));
        readers.put("dae", b -> ColladaReader.read(b, "m.dae", null, Work.QUIET));
        readers.put("obj", b -> ObjReader.read(b, "m.obj", null, Work.QUIET));
        readers.put("ply", b -> PlyReader.read(b, "m.ply", Work.QUIET));
        readers.put("bvh", b -> BvhReader.read(b, "m.bvh", Work.QUIET));
        Map<String, byte[]> good = new TreeMap<>();
        Asset small = SmallAsset.make();
        for (String ending : readers.keySet()) {
            good.put(
                    ending,
                    AssetFiles.write(small, ending, "m", Work.QUIET)
                            .pieces()
                            .getFirst()
                            .bytes());
        }
        List<String> endings = new ArrayList<>(readers.keySet());
        Target target = Target.named("z-up-cm-lh").orElseThrow();
        long raw = 0;
        long slow = 0;
        long opened = 0;
        long delivered = 0;
        String firstRaw = "";
        String firstSlow = "";
        for (int i = 0; i < count; i++) {
            String ending = endings.get(i % endings.size());
            byte[] bad = mutated(good.get(ending), random, ending);
            long start = System.nanoTime();
            try {
                Asset asset = readers.get(ending).read(bad);
                opened++;
                Checks.run(asset, target, Work.QUIET);
                String to = endings.get(random.nextInt(endings.size()));
                Written written = AssetFiles.write(asset, to, "m", Work.QUIET);
                delivered += written.pieces().isEmpty() ? 0 : 1;
            } catch (ReadFailed | Refused e) {
                // A message, as it should be.
            } catch (RuntimeException | Error e) {
                StackTraceElement[] at = e.getStackTrace();
                raw++;
                firstRaw = firstRaw.isEmpty()
                        ? ending + " " + i + ": " + e + " at " + (at.length > 0 ? at[0] : "")
                        : firstRaw;
            }
            if (System.nanoTime() - start > PATIENCE) {
                slow++;
                firstSlow = firstSlow.isEmpty() ? ending + " " + i : firstSlow;
            }
        }
        return new Outcome(opened, delivered, raw, firstRaw, slow, firstSlow);
    }

    /** Bytes flipped, cut, doubled, moved about; numbers in text made large, negative, or no numbers at all. */
    private static byte[] mutated(byte[] good, Random random, String ending) {
        byte[] out = good.clone();
        int rounds = 1 + random.nextInt(4);
        for (int r = 0; r < rounds; r++) {
            int at = random.nextInt(Math.max(1, random.nextBoolean() ? Math.min(out.length, 3000) : out.length));
            switch (random.nextInt(6)) {
                case 0 -> out[at] = (byte) random.nextInt(256);
                case 1 -> out[at] ^= (byte) (1 << random.nextInt(8));
                case 2 -> out = java.util.Arrays.copyOf(out, Math.max(1, at));
                case 3 -> {
                    String[] words = {"-1", "1e39", "NaN", "2147483647", "99999999999", "0", "\"x\"", "[]", "{}", "null"
                    };
                    byte[] word = words[random.nextInt(words.length)].getBytes(StandardCharsets.US_ASCII);
                    System.arraycopy(word, 0, out, at, Math.min(word.length, out.length - at));
                }
                case 4 -> {
                    int from = random.nextInt(out.length);
                    int length = Math.min(random.nextInt(40), out.length - Math.max(from, at));
                    System.arraycopy(out, from, out, at, Math.max(0, length));
                }
                default -> out[at] = (byte) MARKS.charAt(random.nextInt(MARKS.length()));
            }
        }
        return out;
    }

    /** Keeps watch over a crash of the compiler of JDK 25.0.3 that came after a thousand deliveries of COLLADA. */
    static void deliver(Report report, int count) throws Exception {
        report.title(count + " deliveries of COLLADA in one process");
        Asset bridge = LiftBridge.asset();
        long bytes = 0;
        for (int i = 0; i < count; i++) {
            bytes += AssetFiles.write(i % 2 == 0 ? bridge : SmallAsset.make(), "dae", "d", Work.QUIET)
                    .pieces()
                    .getFirst()
                    .bytes()
                    .length;
        }
        report.note(bytes + " bytes written, and the process lives");
    }
}
