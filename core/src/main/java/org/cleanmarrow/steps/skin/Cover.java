package org.cleanmarrow.steps.skin;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.stream.IntStream;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.measure.Hidden;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.model.VertexMap;
import org.cleanmarrow.surface.Subset;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/**
 * Hides what of a body nobody sees under what is worn on it, at rest, in all trial poses and clips: so nothing pokes through
 * there, and it is not drawn for nothing. All that is worn together is said together, for only one mask can hide.
 */
@StepInfo(
        name = "cover",
        says =
                "Takes out of a body the triangles that nobody can see under what is worn, or marks them, by vertex or in a picture.")
public record Cover(
        @Parameter(says = "name of the mesh below") String body,

        @Parameter(says = "names of the meshes worn on it, with * and commas between")
        String worn,

        @Parameter(
                says = "rings of triangles around what is kept that are kept as well",
                fallback = "0",
                least = 0,
                most = 16)
        int rings,

        @Parameter(
                says =
                        "take the triangles out; or keep them and give vertices the attribute _COVER, 1 where hidden; or a"
                                + " picture in the first texture coordinates, white where hidden, in the material's"
                                + " extras.coverTexture",
                fallback = "\"faces\"")
        As as,

        @Parameter(
                says = "frames looked at in every clip, beside the trial poses; 0 for none",
                fallback = "8",
                least = 0,
                most = 1000)
        int framesPerClip,

        @Parameter(says = "of a picture: texels of its width and height", fallback = "1024", least = 16, most = 4096)
        int texels)
        implements Step {
    /** Where the mask goes. */
    public enum As {
        FACES,
        ATTRIBUTE,
        TEXTURE
    }

    /** The vertex attribute of a mask. */
    public static final String ATTRIBUTE = "_COVER";

    /** What is usual of rings, and of frames in a clip. */
    public static final int RINGS = 0;

    public static final int FRAMES = 8;
    private static final int TEXELS = 1024;

    /** Taken out, as found with the usual margin. */
    public Cover(String body, String worn) {
        this(body, worn, RINGS, As.FACES, FRAMES);
    }

    /** A picture of the usual size, where it is one. */
    public Cover(String body, String worn, int rings, As as, int framesPerClip) {
        this(body, worn, rings, as, framesPerClip, TEXELS);
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (rings < 0 || rings > 16 || framesPerClip < 0 || framesPerClip > 1000) {
            throw new Refused("cover.range", rings, framesPerClip);
        }
        if (texels < 16 || texels > 4096) {
            throw new Refused("cover.texels", texels);
        }
        int m = Names.mesh(asset, body);
        List<Integer> over = Names.meshes(asset, worn);
        over.remove(Integer.valueOf(m));
        if (over.isEmpty()) {
            throw new Refused("cover.nothing.worn", worn, body);
        }
        if (asset.nodes().stream().filter(n -> n.mesh() == m).count() != 1) {
            throw new Refused("cover.uses", body);
        }
        Mesh mesh = asset.meshes().get(m);
        BitSet hidden = Hidden.triangles(asset, m, over, framesPerClip, rings, work);
        List<int[]> kept = new ArrayList<>();
        long gone = 0;
        long all = 0;
        for (Primitive p : mesh.primitives()) {
            int[] own = p.triangleCorners();
            int first = (int) all;
            int[] left = IntStream.range(0, own.length / 3)
                    .filter(t -> !hidden.get(first + t))
                    .flatMap(t -> IntStream.of(own[t * 3], own[t * 3 + 1], own[t * 3 + 2]))
                    .toArray();
            kept.add(left);
            all += own.length / 3;
            gone += (own.length - left.length) / 3;
        }
        if (gone == 0) {
            throw new Refused("cover.none", body, worn);
        }
        if (gone == all) {
            throw new Refused("cover.all", body);
        }
        CoverMask mask = new CoverMask(asset, m, hidden, texels);
        Asset out = switch (as) {
            case FACES -> taken(asset, m, kept);
            case ATTRIBUTE -> marked(asset, m, kept);
            case TEXTURE -> mask.paint();
        };
        Change change = Change.of(out).count("triangles.hidden", gone).note("cover.share", 100.0 * gone / all, body);
        return as == As.TEXTURE ? change.count("triangles.masked", mask.whole()) : change;
    }

    private static Asset taken(Asset asset, int m, List<int[]> kept) {
        Mesh mesh = asset.meshes().get(m);
        List<Primitive> primitives = new ArrayList<>();
        List<VertexMap.Piece> pieces = new ArrayList<>();
        int first = 0;
        for (int i = 0; i < kept.size(); i++) {
            Primitive p = mesh.primitives().get(i);
            boolean same = p.triangleCorners().length == kept.get(i).length;
            if (same || kept.get(i).length > 0) {
                primitives.add(same ? p : Subset.ofTriangles(p, kept.get(i)));
                pieces.add(new VertexMap.Piece(first, p.vertexCount(), same ? null : Subset.used(kept.get(i))));
            }
            first += p.vertexCount();
        }
        return asset.withMesh(m, mesh.withPrimitives(primitives), VertexMap.of(pieces));
    }

    /** Vertices that no triangle left uses. What is marked already stays so: masks add up in the one that hides. */
    private static Asset marked(Asset asset, int m, List<int[]> kept) {
        Mesh mesh = asset.meshes().get(m);
        List<Primitive> primitives = new ArrayList<>();
        for (int i = 0; i < kept.size(); i++) {
            Primitive p = mesh.primitives().get(i);
            float[] values = new float[p.vertexCount()];
            for (int corner : p.triangleCorners()) {
                values[corner] = 1;
            }
            for (int corner : kept.get(i)) {
                values[corner] = 0;
            }
            p.attribute(ATTRIBUTE).filter(a -> a.width() == 1).ifPresent(a -> {
                for (int v = 0; v < values.length; v++) {
                    values[v] = Math.max(values[v], a.values()[v]);
                }
            });
            List<Attribute> attributes = new ArrayList<>(p.attributes());
            attributes.removeIf(a -> a.name().equals(ATTRIBUTE));
            attributes.add(new Attribute(ATTRIBUTE, 1, values, Storage.FLOAT));
            primitives.add(p.withAttributes(attributes));
        }
        return asset.withMesh(m, mesh.withPrimitives(primitives));
    }
}
