package org.cleanmarrow.demo;

import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;
import org.cleanmarrow.demo.fault.PlantedFault;
import org.cleanmarrow.demo.ferry.BellChain;
import org.cleanmarrow.demo.ferry.BoatShed;
import org.cleanmarrow.demo.ferry.DeckBoots;
import org.cleanmarrow.demo.ferry.FloatVest;
import org.cleanmarrow.demo.ferry.HeronCrest;
import org.cleanmarrow.demo.ferry.LiftBridge;
import org.cleanmarrow.demo.ferry.MarshHeron;
import org.cleanmarrow.demo.ferry.MooringPennant;
import org.cleanmarrow.demo.ferry.ReturnedCape;
import org.cleanmarrow.demo.ferry.RiverIce;
import org.cleanmarrow.demo.ferry.VestedPilot;
import org.cleanmarrow.demo.pilot.FerryPilot;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.formats.bvh.BvhReader;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;

/**
 * The demo assets of the Saltmarsh Ferry; a new one is added by its line here.
 *
 * @param file   what it is called on disk
 * @param asset  the asset as opening the file gives it
 * @param bytes  the file itself
 * @param faults what was put in wrong on purpose
 */
public record Demo(String file, Supplier<Asset> asset, Supplier<byte[]> bytes, Supplier<List<PlantedFault>> faults) {
    public static final List<Demo> ALL = List.of(
            gltf("ferry-pilot.glb", FerryPilot::asset, FerryPilot::faults),
            gltf("lift-bridge.glb", LiftBridge::asset, LiftBridge::faults),
            gltf("marsh-heron.glb", MarshHeron::asset, MarshHeron::faults),
            new Demo("float-vest.obj", FloatVest::asset, FloatVest::obj, FloatVest::faults),
            new Demo("deck-boots.obj", DeckBoots::asset, DeckBoots::obj, DeckBoots::faults),
            gltf("vested-pilot.glb", VestedPilot::asset, List::of),
            gltf("bell-chain.glb", BellChain::asset, BellChain::faults),
            gltf("boat-shed.glb", BoatShed::asset, BoatShed::faults),
            gltf("mooring-pennant.glb", MooringPennant::asset, MooringPennant::faults),
            gltf("river-ice.glb", RiverIce::asset, RiverIce::faults),
            gltf("heron-crest.glb", HeronCrest::asset, HeronCrest::faults),
            new Demo("returned-cape.usda", ReturnedCape::asset, ReturnedCape::usd, ReturnedCape::faults),
            new Demo("punting-take.bvh", Demo::take, Demo::takeFile, List::of));

    private static Demo gltf(String file, Supplier<Asset> asset, Supplier<List<PlantedFault>> faults) {
        return new Demo(file, asset, () -> GltfWriter.glb(asset.get()), faults);
    }

    /** The main case. */
    public static Demo pilot() {
        return ALL.getFirst();
    }

    /** The name without its ending. */
    public String name() {
        return file.substring(0, file.lastIndexOf('.'));
    }

    public static Optional<Demo> named(String name) {
        return ALL.stream().filter(d -> d.name().equals(name)).findFirst();
    }

    /** The pilot's punting as a capture would bring it: the skeleton alone, under a subject's prefix. */
    private static byte[] takeFile() {
        try {
            Asset take = FerryPilot.takeOf("punt", "take_3:");
            return AssetFiles.write(take, "bvh", "punting-take", Work.QUIET)
                    .pieces()
                    .getFirst()
                    .bytes();
        } catch (Refused e) {
            throw new IllegalStateException(e);
        }
    }

    private static Asset take() {
        try {
            return BvhReader.read(takeFile(), "punting-take.bvh", Work.QUIET);
        } catch (ReadFailed e) {
            throw new IllegalStateException(e);
        }
    }
}
