package org.cleanmarrow.ledger;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.cleanmarrow.json.BadJson;
import org.cleanmarrow.measure.Motion;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.text.Message;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.Work;

/**
 * What a newer version of a source means for a ledger: how the two differ, and which steps still fit, told before anything is taken.
 *
 * @param source  the newer version
 * @param gone    names that the earlier had and it has not, a message a kind
 * @param come    the other way round
 * @param motion  how far the two move apart where they correspond
 * @param plain   the ledger as it is
 * @param renamed the ledger with names that things took on, where that lets more steps fit
 */
public record Newer(
        Asset source,
        List<Message> gone,
        List<Message> come,
        Motion motion,
        Replayed plain,
        Optional<Renamed> renamed) {
    private static final int MOST_NAMED = 6;

    /** A ledger and what its steps did on the newer source. */
    public record Replayed(Ledger ledger, List<Replay.Done> done) {
        static Replayed of(Asset source, Ledger ledger, Work work) {
            return new Replayed(ledger, Replay.all(source, ledger, true, work));
        }

        /** Whether a step that is on was not done. */
        public boolean isLost(int step) {
            return ledger.entries().get(step).on() && done.get(step).outcome().isEmpty();
        }

        /** How many steps that are on were not done. */
        public int lost() {
            return (int) IntStream.range(0, done.size()).filter(this::isLost).count();
        }

        /** The same with those steps off, so that nothing speaks of them any more. */
        public Replayed withoutLost() {
            Ledger off = ledger;
            for (int i = 0; i < done.size(); i++) {
                off = isLost(i) ? off.switched(i, false) : off;
            }
            return new Replayed(off, done);
        }
    }

    /** The ledger with new names in place of those that are gone. */
    public record Renamed(NewNames names, Replayed replayed) {}

    /** Cost: a replay of the ledger, or two where names are called otherwise, and one comparison. */
    public static Newer of(Asset received, Asset source, Ledger ledger, Work work) {
        Replayed plain = Replayed.of(source, ledger, work);
        return new Newer(
                source,
                missing(received, source),
                missing(source, received),
                MotionProbe.compare(received, source, work),
                plain,
                plain.lost() == 0 ? Optional.empty() : renamed(received, source, plain, work));
    }

    /** Names of one asset that the other has not, a message a kind. */
    private static List<Message> missing(Asset one, Asset other) {
        List<Message> out = new ArrayList<>();
        missing("node", names(one.nodes(), Node::name), names(other.nodes(), Node::name), out);
        missing("mesh", names(one.meshes(), Mesh::name), names(other.meshes(), Mesh::name), out);
        missing("clip", names(one.clips(), Clip::name), names(other.clips(), Clip::name), out);
        missing("material", names(one.materials(), Material::name), names(other.materials(), Material::name), out);
        return List.copyOf(out);
    }

    private static <T> Set<String> names(List<T> things, Function<T, String> name) {
        return things.stream().map(name).collect(Collectors.toCollection(LinkedHashSet::new));
    }

    private static void missing(String kind, Set<String> one, Set<String> other, List<Message> out) {
        List<String> only = one.stream().filter(n -> !other.contains(n)).toList();
        if (!only.isEmpty()) {
            String some = only.stream().limit(MOST_NAMED).collect(Collectors.joining(", "));
            out.add(Message.of("newer." + kind, only.size(), some, only.size() > MOST_NAMED ? 1 : 0));
        }
    }

    /** A step that does not fit is tried with the new names, where it then stands; the others stay as they are. */
    private static Optional<Renamed> renamed(Asset received, Asset source, Replayed plain, Work work) {
        NewNames names = NewNames.between(received, source);
        if (names.names().isEmpty()) {
            return Optional.empty();
        }
        List<Ledger.Entry> entries = new ArrayList<>();
        List<Replay.Done> all = new ArrayList<>();
        Asset asset = source;
        for (int i = 0; i < plain.done.size(); i++) {
            Ledger.Entry entry = plain.ledger.entries().get(i);
            // The same object: nothing before it went another way.
            boolean known = (i == 0 ? source : plain.done.get(i - 1).asset()) == asset;
            Replay.Done done = known
                    ? plain.done.get(i)
                    : entry.on() ? Replay.one(asset, entry.step(), true, work) : Replay.off(asset, entry.step());
            Optional<Replay.Done> other =
                    entry.on() && done.outcome().isEmpty() ? tried(names, entry.step(), asset, work) : Optional.empty();
            Replay.Done taken = other.orElse(done);
            entries.add(new Ledger.Entry(taken.step(), entry.on()));
            all.add(taken);
            asset = taken.asset();
        }
        Replayed other = new Replayed(names.kept(plain.ledger, entries, source), all);
        return other.lost() < plain.lost() ? Optional.of(new Renamed(names, other)) : Optional.empty();
    }

    private static Optional<Replay.Done> tried(NewNames names, Step step, Asset asset, Work work) {
        try {
            Replay.Done done = Replay.one(asset, names.in(step), true, work);
            return done.outcome().isPresent() ? Optional.of(done) : Optional.empty();
        } catch (BadJson e) {
            return Optional.empty();
        }
    }
}
