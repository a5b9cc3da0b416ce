package org.cleanmarrow.formats.file;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Image;
import org.cleanmarrow.picture.Png;
import org.cleanmarrow.work.Work;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.Test;

/** Pictures whose paths were right on another machine are found by their names, in the file's own folder and below it. */
public class PicturesBelowTest {
    private static final byte[] PICTURE = Png.encode(1, 1, new int[] {0x630000FF});

    private Path folder;

    @BeforeMethod
    public void make() throws Exception {
        folder = Files.createTempDirectory("pictures").resolve("own");
        Files.createDirectories(folder.resolve("deep/textures"));
    }

    private Path put(String where) throws Exception {
        return Files.write(folder.resolve(where), PICTURE);
    }

    private Asset obj(String picture) throws Exception {
        Files.writeString(folder.resolve("a.mtl"), "newmtl m\nmap_Kd " + picture + "\n");
        Path file = Files.writeString(
                folder.resolve("a.obj"), "mtllib a.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nusemtl m\nf 1 2 3\n");
        return AssetFiles.open(file, Work.QUIET);
    }

    @Test
    public void thoseOfAbsolutePathsAndOtherFoldersAreFoundNearestFirst() throws Exception {
        put("deep/textures/Oak.PNG");
        for (String named :
                new String[] {"C:\\\\work\\\\tex\\\\oak.png", "/home/else/oak.png", "../oak.png", "oak.png"}) {
            Asset asset = obj(named);
            assertThat(asset.images()).as(named).hasSize(1);
            assertThat(asset.images().getFirst().bytes()).isEqualTo(PICTURE);
        }
        Files.write(folder.resolve("deep/oak.png"), new byte[] {1, 2, 3});
        assertThat(obj("/x/oak.png").images().getFirst().bytes()).hasSize(3);
        assertThat(obj("/x/elm.png").images()).isEmpty();
        assertThat(obj("/x/elm.png").notes()).anyMatch(n -> n.contains("elm.png"));
    }

    @Test
    public void nothingOutsideIsTakenAlsoWhereALinkLeadsThere() throws Exception {
        Files.write(folder.resolveSibling("oak.png"), PICTURE);
        Files.createSymbolicLink(folder.resolve("deep/oak.png"), folder.resolveSibling("oak.png"));
        Files.createSymbolicLink(folder.resolve("out"), folder.getParent());
        assertThat(obj("../oak.png").images()).isEmpty();
    }

    @Test
    public void thatOfAGltfFileIsNamedByWhereItLies() throws Exception {
        put("deep/textures/red oak.png");
        String json = """
            {"asset": {"version": "2.0"}, "images": [{"uri": "red%20oak.png"}, {"uri": "elm.png"}],
             "textures": [{"source": 0}, {"source": 1}]}""";
        Asset asset = AssetFiles.open(Files.writeString(folder.resolve("a.gltf"), json), Work.QUIET);
        Image found = asset.images().getFirst();
        assertThat(found.uri()).isEqualTo("deep/textures/red%20oak.png");
        assertThat(found.bytes()).isEqualTo(PICTURE);
        assertThat(asset.images().get(1).bytes()).isNull();
        assertThat(asset.notes())
                .anyMatch(n -> n.contains("red%20oak.png is missing beside the file; deep/textures/red%20oak.png"))
                .anyMatch(n -> n.contains("elm.png is missing beside the file, and none"));
    }
}
