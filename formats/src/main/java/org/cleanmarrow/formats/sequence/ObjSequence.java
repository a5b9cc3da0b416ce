package org.cleanmarrow.formats.sequence;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.cleanmarrow.caches.CacheBake;
import org.cleanmarrow.edit.Timing;
import org.cleanmarrow.formats.file.ClipFiles;
import org.cleanmarrow.formats.file.Pictures;
import org.cleanmarrow.formats.file.Written;
import org.cleanmarrow.formats.obj.ObjWriter;
import org.cleanmarrow.formats.text.Remarks;
import org.cleanmarrow.formats.text.TextOut;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Faces;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.VertexFrames;
import org.cleanmarrow.model.VertexTrack;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.RestSnapshot;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.surface.ShapeMap;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;

/**
 * Writes clips as rows of OBJ files, a file a frame, first and last included: every part as the clip poses it, in the world, each
 * vertex a position of its own, so that count and order are the same in all. Frame numbers are the clip's. Where there are several clips
 * the files of each bear its name. What a simulation takes as its collider.
 */
public final class ObjSequence {
    private static final long MOST_BYTES = 1L << 30;

    private ObjSequence() {}

    /** @throws Refused where there is no mesh or no clip, or it would be too much */
    public static Written write(Asset asset, String base, Pictures pictures, Work work) throws Refused {
        if (asset.nodes().stream().noneMatch(n -> n.mesh() >= 0)) {
            throw new Refused("write.no.mesh", "OBJ");
        }
        List<Clip> clips =
                asset.clips().stream().filter(c -> !c.channels().isEmpty()).toList();
        if (clips.isEmpty()) {
            throw new Refused("write.no.clip", "OBJ");
        }
        List<Written.Piece> pieces = new ArrayList<>();
        List<String> notes = new ArrayList<>();
        List<String> names = ClipFiles.names(base, clips);
        for (int c = 0; c < clips.size(); c++) {
            Written one = row(
                    asset,
                    clips.get(c),
                    names.get(c),
                    pictures,
                    work.part(c / (double) clips.size(), (c + 1.0) / clips.size()));
            pieces.addAll(one.pieces());
            notes.addAll(one.notes());
        }
        return new Written(pieces, notes.stream().distinct().toList());
    }

    private static Written row(Asset asset, Clip clip, String base, Pictures pictures, Work work) throws Refused {
        Asset still = separate(RestSnapshot.of(asset));
        Deformer deformer = new Deformer(asset);
        List<MeshPlace> places = deformer.places();
        Rig rig = new Rig(asset);
        int first = clip.firstFrame();
        int count = clip.lastFrame() - first + 1;
        int vertices = places.stream().mapToInt(deformer::vertexCount).sum();
        // Text takes about five times the numbers.
        if (60L * vertices * count > MOST_BYTES) {
            throw new Refused("write.row.large", count, vertices);
        }
        String head = "# " + Remarks.CLIP + TextOut.oneLine(clip.name()) + "\n# " + Remarks.RATE + clip.rate() + "\n";
        List<Written.Piece> pieces = new ArrayList<>();
        List<Written.Piece> beside = new ArrayList<>();
        List<String> notes = new ArrayList<>();
        Asset[] meant = {still};
        List<Refused> refused = new ArrayList<>();
        VertexFrames frames = CacheBake.frames(Math.max(1, vertices), count, work, (k, out) -> {
            Pose pose = rig.at(clip, Timing.seconds(clip, first + k));
            Asset posed = posed(still, deformer, places, pose, out);
            try {
                Written written = ObjWriter.write(posed, base, pictures, Work.QUIET);
                byte[] body = written.pieces().getFirst().bytes();
                byte[] all = Arrays.copyOf(head.getBytes(StandardCharsets.UTF_8), head.length() + body.length);
                System.arraycopy(body, 0, all, all.length - body.length, body.length);
                pieces.add(new Written.Piece(FrameSequence.name(base, first + k, "obj"), all, null));
                if (k == 0) {
                    meant[0] = written.pieces().getFirst().meant();
                    beside.addAll(written.pieces().subList(1, written.pieces().size()));
                    notes.addAll(written.notes());
                }
            } catch (Refused e) {
                refused.add(e);
            }
        });
        if (!refused.isEmpty()) {
            throw refused.getFirst();
        }
        float[] times = new float[count];
        for (int k = 0; k < count; k++) {
            times[k] = (float) ((first + k) / clip.rate());
        }
        List<Channel> channels = new ArrayList<>();
        int from = 0;
        for (int p = 0; p < places.size(); p++) {
            int[] own = new int[deformer.vertexCount(places.get(p))];
            int start = from;
            Arrays.setAll(own, i -> start + i);
            VertexTrack track = new VertexTrack(times, frames, new Matrix4d(), own);
            channels.add(new Channel(p, Channel.Path.VERTICES, track, "", Passthrough.NONE));
            from += own.length;
        }
        Clip played = new Clip(clip.name(), channels, clip.rate(), false, true, List.of(), Passthrough.NONE);
        pieces.set(
                0,
                new Written.Piece(
                        pieces.getFirst().name(), pieces.getFirst().bytes(), meant[0].withClips(List.of(played))));
        pieces.addAll(beside);
        return new Written(pieces, notes);
    }

    /** Every vertex a position of its own: those that are one at rest may part. */
    private static Asset separate(Asset still) {
        List<Mesh> meshes = still.meshes().stream()
                .map(m -> m.withPrimitives(m.primitives().stream()
                        .map(p -> {
                            Faces f = p.layout().faces();
                            return f == null
                                    ? p
                                    : p.withLayout(p.layout()
                                            .withFaces(new Faces(
                                                    f.starts(),
                                                    f.corners(),
                                                    null,
                                                    f.smoothing(),
                                                    f.groups(),
                                                    f.groupNames())));
                        })
                        .toList()))
                .toList();
        return still.withMeshes(meshes);
    }

    private static Asset posed(Asset still, Deformer deformer, List<MeshPlace> places, Pose pose, float[] all) {
        Matrix4d[] world = pose.world();
        List<Mesh> meshes = new ArrayList<>();
        int from = 0;
        for (int i = 0; i < places.size(); i++) {
            float[] p = new float[3 * deformer.vertexCount(places.get(i))];
            float[] n = new float[p.length];
            deformer.deform(places.get(i), pose, world, new Matrix4d(), p, n, true);
            System.arraycopy(p, 0, all, from, p.length);
            from += p.length;
            List<Primitive> primitives = new ArrayList<>();
            int at = 0;
            for (Primitive was : still.meshes().get(i).primitives()) {
                int length = was.positions().length;
                float[] up =
                        was.normals() == null ? null : ShapeMap.unitNormals(Arrays.copyOfRange(n, at, at + length));
                primitives.add(was.withShape(Arrays.copyOfRange(p, at, at + length), up, null, List.of()));
                at += length;
            }
            meshes.add(still.meshes().get(i).withPrimitives(primitives));
        }
        return still.withMeshes(meshes);
    }
}
