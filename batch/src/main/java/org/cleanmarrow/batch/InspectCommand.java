package org.cleanmarrow.batch;

import java.nio.file.Path;
import java.util.Optional;
import org.cleanmarrow.caches.CacheUse;
import org.cleanmarrow.cloth.ClothSection;
import org.cleanmarrow.cloth.Strays;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.RigidBody;
import org.cleanmarrow.collision.RigidJoint;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.json.ConventionsJson;
import org.cleanmarrow.measure.Seam;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Image;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.TextureUse;
import org.cleanmarrow.picture.PictureHead;
import org.cleanmarrow.pose.RestBox;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.query.Extensions;
import org.cleanmarrow.query.Inventory;
import org.cleanmarrow.query.Painted;
import org.cleanmarrow.roles.Body;
import org.cleanmarrow.surface.Strands;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

@Command(name = "inspect", description = "Says what is in a file.")
final class InspectCommand extends JsonCommand {
    @Parameters(paramLabel = "FILE", description = "file to look into")
    private Path file;

    @Override
    public Integer call() throws Exception {
        print(describe(file, AssetFiles.open(file, Work.QUIET)));
        return 0;
    }

    private static ObjectNode describe(Path file, Asset asset) {
        ObjectNode out = JsonNodeFactory.instance.objectNode();
        out.put("file", file.toString());
        out.set("conventions", ConventionsJson.write(asset.conventions()));
        out.put("nodes", asset.nodes().size());
        ArrayNode meshes = out.putArray("meshes");
        for (int m = 0; m < asset.meshes().size(); m++) {
            mesh(asset, m, meshes.addObject());
        }
        ArrayNode skins = out.putArray("skins");
        asset.skins().forEach(s -> skins.addObject().put("name", s.name()).put("joints", s.joints().length));
        ArrayNode clips = out.putArray("clips");
        for (Clip clip : asset.clips()) {
            ObjectNode c = clips.addObject();
            c.put("name", clip.name());
            c.put("firstFrame", clip.firstFrame());
            c.put("lastFrame", clip.lastFrame());
            c.put("framesPerSecond", clip.rate());
            c.put("seconds", clip.seconds());
            c.put("channels", clip.channels().size());
            c.put("loop", clip.loop());
            ArrayNode tags = c.putArray("tags");
            clip.tags().forEach(tags::add);
            if (clip.loop()) {
                Seam seam = Seam.of(asset, clip, Work.QUIET);
                ObjectNode s = c.putObject("seam");
                s.put("metres", seam.metres());
                s.put("metresPerSecond", seam.metresPerSecond());
                s.put("degreesPerSecond", seam.degreesPerSecond());
            }
        }
        collision(asset, out);
        caches(asset, out);
        cloths(asset, out);
        ArrayNode materials = out.putArray("materials");
        asset.materials().forEach(m -> material(asset, m, materials.addObject()));
        ArrayNode pictures = out.putArray("pictures");
        for (int i = 0; i < asset.images().size(); i++) {
            picture(asset, i, pictures.addObject());
        }
        ArrayNode extensions = out.putArray("extensions");
        Extensions.of(asset).forEach(extensions::add);
        out.set("boundsMetres", bounds(asset));
        Body body = Body.of(asset);
        out.put("kind", body.kind().code());
        body.forward()
                .flatMap(Body.Frame::axis)
                .ifPresentOrElse(a -> out.put("faces", a.code()), () -> out.putNull("faces"));
        body.up()
                .flatMap(Body.Frame::axis)
                .ifPresentOrElse(a -> out.put("stands", a.code()), () -> out.putNull("stands"));
        ObjectNode roles = out.putObject("roles");
        body.roles().forEach((role, guess) -> roles.put(role.code(), asset.nodeRef(guess.node())));
        ArrayNode notes = out.putArray("notes");
        asset.notes().forEach(notes::add);
        return out;
    }

    private static void collision(Asset asset, ObjectNode out) {
        String[] refs = asset.nodeRefs();
        Matrix4d[] world = new Rig(asset).rest().world();
        ArrayNode colliders = out.putArray("colliders");
        for (Collider c : Bodies.colliders(asset)) {
            ObjectNode one = colliders.addObject();
            one.put("node", refs[c.node()]);
            one.put("name", c.name());
            one.put("kind", c.shape().kind());
            one.put("role", c.role().code());
            corner(one.putArray("size"), Bodies.sizeMetres(asset, world, c), 1);
            one.put("volumeCubicMetres", Bodies.cubicMetres(asset, world, c));
        }
        ArrayNode bodies = out.putArray("bodies");
        for (RigidBody b : Bodies.all(asset)) {
            ObjectNode one = bodies.addObject();
            one.put("node", refs[b.node()]);
            one.put("kind", b.kind().code());
            one.put("massKilograms", b.mass().kilograms());
        }
        ArrayNode joints = out.putArray("bodyJoints");
        for (RigidJoint j : Bodies.joints(asset)) {
            ObjectNode one = joints.addObject();
            one.put("node", refs[j.node()]);
            one.put("on", j.other() < 0 ? null : refs[j.other()]);
            one.put("limits", j.limits().size());
        }
    }

    private static void cloths(Asset asset, ObjectNode out) {
        ArrayNode cloths = out.putArray("cloths");
        for (ClothSection s : ClothSection.all(asset)) {
            int mesh = asset.nodes().get(s.node()).mesh();
            int[] held = new int[3];
            for (float stray :
                    mesh < 0 ? new float[0] : Strays.of(asset.meshes().get(mesh))) {
                held[stray == 0 ? 0 : stray < 1 ? 1 : 2]++;
            }
            ObjectNode one = cloths.addObject();
            one.put("node", asset.nodeRef(s.node()));
            one.put("reachMetres", s.fabric().reach());
            one.put("thicknessMetres", s.fabric().thickness());
            one.put("substeps", s.fabric().substeps());
            one.put("pinnedVertices", held[0]);
            one.put("strayingVertices", held[1]);
            one.put("freeVertices", held[2]);
        }
    }

    private static void caches(Asset asset, ObjectNode out) {
        String[] refs = asset.nodeRefs();
        ArrayNode caches = out.putArray("caches");
        for (CacheUse use : CacheUse.all(asset)) {
            ObjectNode one = caches.addObject();
            one.put("mesh", asset.meshRef(use.mesh()));
            one.put("node", refs[use.node()]);
            one.put("clip", Inventory.clipRef(asset, use.clip()));
            one.put("frames", use.track().times().length);
            one.put("vertices", use.track().vertices());
            one.put("bytes", use.bytes());
            one.put("fits", use.fits(asset));
        }
        ArrayNode strands = out.putArray("strands");
        for (Strands.Count count : Strands.counts(asset)) {
            ObjectNode one = strands.addObject();
            one.put("part", asset.meshRef(asset.nodes().get(count.node()).mesh()));
            one.put("node", refs[count.node()]);
            one.put("curves", count.curves());
            one.put("points", count.points());
        }
    }

    private static void material(Asset asset, Material material, ObjectNode out) {
        out.put("name", material.name());
        out.put("doubleSided", material.doubleSided());
        ArrayNode textures = out.putArray("textures");
        for (TextureUse use : material.textures()) {
            int image = asset.textures().get(use.texture()).image();
            ObjectNode one = textures.addObject().put("slot", use.slot());
            one.put("picture", image < 0 ? null : Painted.name(asset, image));
        }
    }

    private static void picture(Asset asset, int number, ObjectNode out) {
        Image image = asset.images().get(number);
        byte[] bytes = image.bytes();
        Optional<PictureHead> head = Optional.ofNullable(bytes).flatMap(PictureHead::of);
        out.put("name", Painted.name(asset, number));
        out.put(
                "mimeType",
                head.map(PictureHead::mimeType).orElse(image.mimeType().isEmpty() ? null : image.mimeType()));
        out.put("file", image.uri().isEmpty() ? null : image.uri());
        out.put("bytes", bytes == null ? null : bytes.length);
        out.put("width", head.map(PictureHead::width).orElse(null));
        out.put("height", head.map(PictureHead::height).orElse(null));
    }

    private static void mesh(Asset asset, int number, ObjectNode out) {
        Mesh mesh = asset.meshes().get(number);
        out.put("name", mesh.name());
        out.put("vertices", mesh.vertexCount());
        out.put("triangles", mesh.triangleCount());
        ArrayNode materials = out.putArray("materials");
        mesh.primitives().stream()
                .mapToInt(Primitive::material)
                .filter(m -> m >= 0)
                .distinct()
                .forEach(m -> materials.add(asset.materials().get(m).name()));
        int skin = asset.skinOfMesh(number);
        if (skin < 0) {
            out.putNull("skin");
        } else {
            String name = asset.skins().get(skin).name();
            out.put("skin", name.isEmpty() ? "#" + skin : name);
        }
        out.put("morphTargets", mesh.targetCount());
    }

    private static ObjectNode bounds(Asset asset) {
        Box box = RestBox.of(asset);
        double unit = asset.conventions().metresPerUnit();
        ObjectNode out = JsonNodeFactory.instance.objectNode();
        corner(out.putArray("min"), box.isEmpty() ? new Vector3d() : box.min(), unit);
        corner(out.putArray("max"), box.isEmpty() ? new Vector3d() : box.max(), unit);
        return out;
    }

    private static void corner(ArrayNode out, Vector3d point, double unit) {
        out.add(point.x * unit).add(point.y * unit).add(point.z * unit);
    }
}
