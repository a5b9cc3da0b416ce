package org.cleanmarrow.batch;

import java.io.PrintWriter;
import java.nio.charset.StandardCharsets;
import org.cleanmarrow.formats.file.FileTroubles;
import org.cleanmarrow.formats.file.MappedRoom;
import picocli.CommandLine;
import picocli.CommandLine.Command;

/** The command line: everything that needs no display. JSON goes to standard output, messages to standard error. */
@Command(
        name = "marrow",
        description = "Prepares rigged and animated meshes for game engines, and proves that nothing moved.",
        mixinStandardHelpOptions = true,
        versionProvider = Version.class,
        subcommands = {
            CommandLine.HelpCommand.class,
            InspectCommand.class,
            CheckCommand.class,
            RunCommand.class,
            MendCommand.class,
            ReorderCommand.class,
            ReportCommand.class,
            CompareCommand.class,
            StepsCommand.class,
            ChecksCommand.class,
            SchemaCommand.class
        })
public final class Main {
    private Main() {}

    public static void main(String[] arguments) {
        MappedRoom.use();
        PrintWriter out = new PrintWriter(System.out, true, StandardCharsets.UTF_8);
        PrintWriter err = new PrintWriter(System.err, true, StandardCharsets.UTF_8);
        int code = run(out, err, arguments);
        err.flush();
        if (out.checkError()) {
            // Such as a full disk behind a redirection: what was to be said has not arrived.
            System.err.println("marrow: standard output cannot be written; nothing or not all of it arrived.");
            code = 2;
        }
        System.exit(code);
    }

    /**
     * Runs one command.
     *
     * @return 0 fine, 1 findings or a difference, 2 bad use or input
     */
    public static int run(PrintWriter out, PrintWriter err, String... arguments) {
        CommandLine line = new CommandLine(new Main());
        line.setOut(out);
        line.setErr(err);
        line.setParameterExceptionHandler((e, args) -> {
            err.println(e.getMessage());
            e.getCommandLine().usage(err);
            return 2;
        });
        line.setExecutionExceptionHandler((e, command, result) -> {
            err.println(FileTroubles.say(e));
            return 2;
        });
        if (arguments.length == 0) {
            line.usage(err);
            return 2;
        }
        try {
            return line.execute(arguments);
        } catch (OutOfMemoryError e) {
            err.println(
                    "There is not enough memory for this file; give the program more with MARROW_HEAP, such as 4g.");
            return 2;
        }
    }
}
