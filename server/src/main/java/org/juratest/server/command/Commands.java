package org.juratest.server.command;

import picocli.CommandLine;
import picocli.CommandLine.Command;

/** The commands of {@code ./juratest} that are not the server. */
public final class Commands {

    /** Something was refused: the input cannot be used. */
    static final int REFUSED = 2;
    /** A run was stopped. */
    static final int STOPPED = 3;
    /** Verify found a break. */
    static final int BROKEN = 4;

    private Commands() {}

    @Command(
            name = "juratest",
            subcommands = {AnalyseCommand.class, ExampleCommand.class, VerifyCommand.class},
            description = "Tests of installed assets")
    static final class Root {}

    /** Runs a command; 0 is well, 1 our own fault, 2 a refusal, 3 a stopped run, 4 a break found. */
    public static int execute(String[] arguments) {
        return new CommandLine(new Root())
                .setExecutionExceptionHandler((e, line, result) -> {
                    line.getErr()
                            .println(line.getCommandName() + ": "
                                    + (e.getMessage() == null ? e.toString() : e.getMessage()));
                    return 1;
                })
                .execute(arguments);
    }
}
