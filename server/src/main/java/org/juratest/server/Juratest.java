package org.juratest.server;

import java.util.Arrays;
import org.juratest.server.command.Commands;
import org.springframework.boot.SpringApplication;
import org.springframework.boot.autoconfigure.SpringBootApplication;
import org.springframework.scheduling.annotation.EnableScheduling;

/** The program: {@code serve} is the server, everything else is a command of {@code ./juratest}. */
@SpringBootApplication
@EnableScheduling
public class Juratest {

    /** Version that judges; stored with every judgement. */
    public static final String VERSION = "0.1.0";

    public static void main(String[] arguments) {
        if (arguments.length == 0 || arguments[0].equals("serve")) {
            SpringApplication.run(
                    Juratest.class,
                    arguments.length == 0 ? arguments : Arrays.copyOfRange(arguments, 1, arguments.length));
        } else {
            System.exit(Commands.execute(arguments));
        }
    }
}
