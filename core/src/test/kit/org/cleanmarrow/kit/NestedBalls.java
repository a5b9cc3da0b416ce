package org.cleanmarrow.kit;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.model.Storage;
import org.joml.Matrix4d;

/** A ball of one metre, "skin", in one or two others, "coat", which the clip "slide" moves sideways: what comes through is known. */
public final class NestedBalls {
    private static final int ROUND = 96;
    private static final int HIGH = 48;

    private NestedBalls() {}

    /**
     * @param slide  how far the coat goes along x, in metres
     * @param coats  radii of the coat's layers; the inner one of two faces inwards
     */
    public static Asset of(double slide, double... coats) {
        List<Primitive> layers = new ArrayList<>();
        for (int i = 0; i < coats.length; i++) {
            layers.add(ball(coats[i], coats.length > 1 && i == 0, 1));
        }
        List<Node> nodes = List.of(
                Node.group("root", Local.IDENTITY, 1, 2),
                Node.group("under", Local.IDENTITY),
                Node.group("over", Local.IDENTITY),
                Node.group("skin", Local.IDENTITY).withMesh(0, 0),
                Node.group("coat", Local.IDENTITY).withMesh(1, 0));
        Skin skin = new Skin("", new int[] {1, 2}, null, -1, Passthrough.NONE);
        Sampler keys = new Sampler(
                Sampler.Interpolation.LINEAR,
                new float[] {0, 1},
                new float[] {0, 0, 0, (float) slide, 0, 0},
                3,
                Storage.FLOAT);
        Clip clip = new Clip(
                "slide",
                List.of(new Channel(2, Channel.Path.TRANSLATION, keys, "", Passthrough.NONE)),
                24,
                false,
                true,
                List.of(),
                Passthrough.NONE);
        return Asset.of(
                "balls",
                Conventions.GLTF,
                nodes,
                List.of(Mesh.of("skin", ball(1, false, 0)), Mesh.of("coat", layers.toArray(Primitive[]::new))),
                List.of(skin),
                List.of(clip));
    }

    /** The same with the coat's joint below the middle, so that every bend moves it aside. */
    public static Asset hung(double below, double... coats) {
        Asset asset = of(0, coats);
        List<Node> nodes = new ArrayList<>(asset.nodes());
        nodes.set(2, nodes.get(2).withLocal(Local.at(0, -below, 0)));
        Matrix4d[] binds = {new Matrix4d(), new Matrix4d().translation(0, below, 0)};
        Skin skin = asset.skins().getFirst();
        return asset.withNodes(nodes).withSkins(List.of(skin.with(skin.joints(), Skin.pack(binds), skin.skeleton())));
    }

    private static Primitive ball(double radius, boolean inwards, int joint) {
        float[] positions = new float[(ROUND * (HIGH - 1) + 2) * 3];
        int at = 0;
        for (int h = 1; h < HIGH; h++) {
            double polar = Math.PI * h / HIGH;
            for (int r = 0; r < ROUND; r++) {
                double turn = 2 * Math.PI * r / ROUND;
                positions[at++] = (float) (radius * Math.sin(polar) * Math.cos(turn));
                positions[at++] = (float) (radius * Math.cos(polar));
                positions[at++] = (float) (-radius * Math.sin(polar) * Math.sin(turn));
            }
        }
        positions[at + 1] = (float) radius;
        positions[at + 4] = (float) -radius;
        int top = at / 3;
        List<int[]> triangles = new ArrayList<>();
        for (int r = 0; r < ROUND; r++) {
            int next = (r + 1) % ROUND;
            triangles.add(new int[] {top, r, next});
            for (int h = 0; h + 2 < HIGH; h++) {
                int a = h * ROUND + r;
                int b = h * ROUND + next;
                triangles.add(new int[] {a, a + ROUND, b});
                triangles.add(new int[] {b, a + ROUND, b + ROUND});
            }
            int last = (HIGH - 2) * ROUND;
            triangles.add(new int[] {last + r, top + 1, last + next});
        }
        int[] corners = triangles.stream()
                .flatMapToInt(t -> java.util.stream.IntStream.of(t[0], inwards ? t[2] : t[1], inwards ? t[1] : t[2]))
                .toArray();
        Influences.Builder rows = new Influences.Builder(positions.length / 3);
        for (int v = 0; v < positions.length / 3; v++) {
            rows.add(joint, 1);
            rows.endRow();
        }
        return Primitive.triangles(corners, positions, null, -1).withInfluences(rows.build());
    }
}
