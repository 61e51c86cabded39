package org.juratest.server;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;

/**
 * A small valley for server tests, in the form the stand-ins write. The second breaker is of a model nobody knows and
 * has no rated voltage, the third has no long-time setting either.
 */
final class DemoFleetFile {

    private DemoFleetFile() {}

    static Path write(Path folder, int injectionPort, int microPort) throws IOException {
        String tests =
                """
        [{"day": "2025-11-20", "person": "tavel", "temperature": 14, "insulation": {"A-B": 2000, "B-C": 2000,
          "C-A": 2000, "A-E": 2000, "B-E": 2000,
          "C-E": 2000, "A-LL": 2000, "B-LL": 2000, "C-LL": 2000}, "contact": {"A": 198, "B": 203, "C": 290},
            "contactEnd": {"A": 198, "B": 203, "C": 290},
          "trips": [{"pole": "A", "current": 300, "seconds": 24.0, "repaired": "", "trace": [[0.5, 301.2], [12,
            300.1], [23.9, 300]]}, {"pole": "B", "current": 300, "seconds": 41.6, "repaired": ""},
            {"pole": "B", "current": 300, "seconds": 24.3, "repaired": "greased"}, {"pole": "C", "current": 300,
              "seconds": 25.0, "repaired": ""}]}]""";
        String text =
                """
        {"today": "2026-11-25", "sites": [{"code": "MFR", "name": "Montfrel substation", "km": 5.4, "altitude": 690}],
         "people": [{"id": "tavel", "name": "A. Tavel", "role": "technician", "password": "rack-rail-16"},
           {"id": "oster", "name": "M. Oster", "role": "supervisor", "password": "penstock-42"},
           {"id": "ruvane", "name": "P. Ruvane", "role": "engineer", "password": "gantry-post-57"}, {"id": "corvise",
             "name": "E. Corvise", "role": "auditor", "password": "ledger-stone-12"},
           {"id": "valdres", "name": "H. Valdres", "role": "administrator", "password": "signal-box-90"}],
         "gear": [
           {"id": "inj-2", "name": "Injection set 2", "role": "current-source", "driver": "scpi-injection",
             "maker": "Brennach",
             "model": "PI-3000", "serial": "BR-3317", "host": "127.0.0.1",
             "port": %d, "calibratedOn": "2026-03-14", "calibratedTo": "2099-03-14", "certificate": "C-2026-3317",
               "accuracy": {
               "current": {"percentOfReading": 0.5, "percentOfRange": 0.1, "floor": 0, "stated": "expandedK2"},
               "time": {"percentOfReading": 0.01, "percentOfRange": 0, "floor": 0.002, "stated": "rectangular"}}},
           {"id": "mic-1", "name": "Micro-ohmmeter 1", "role": "micro-ohmmeter", "driver": "scpi-micro-ohmmeter",
             "maker": "Brennach",
             "model": "MO-10", "serial": "BR-0825", "host": "127.0.0.1",
             "port": %d, "calibratedOn": "2026-08-02", "calibratedTo": "2099-08-02", "certificate": "C-2026-0825",
               "accuracy": {}},
           {"id": "mic-2", "name": "Micro-ohmmeter 2", "role": "micro-ohmmeter", "maker": "Brennach",
             "model": "MO-10", "serial": "BR-0790", "host": "127.0.0.1",
             "port": 0, "calibratedOn": "2024-08-02", "calibratedTo": "2025-08-02", "certificate": "C-2024-0790",
               "accuracy": {}},
           {"id": "ins-1", "name": "Insulation tester 1", "role": "insulation-tester", "maker": "Toldane",
             "model": "IT-1", "serial": "TD-5104", "host": "127.0.0.1",
             "port": 0, "calibratedOn": "2026-09-06", "calibratedTo": "2099-09-06", "certificate": "C-2026-5104",
               "accuracy": {}}],
         "breakers": [
           {"asset": "CBK-1", "position": "MFR-CBK-07", "site": "MFR", "maker": "Orvex", "model": "M160",
             "serial": "48-2291", "curve": "orvex-m160",
             "ratings": {"poles": 3, "ratedCurrent": 100, "ratedVoltage": 400, "longTimeSetting": 100},
               "installed": "2025-11-20", "tests": %s},
           {"asset": "CBK-2", "position": "MFR-CBK-08", "site": "MFR", "maker": "Unheard", "model": "X1",
             "serial": "1", "curve": null,
             "ratings": {"poles": 3, "ratedCurrent": 100, "longTimeSetting": 100}, "installed": "2025-11-20",
               "tests": %s},
           {"asset": "CBK-3", "position": "MFR-CBK-09", "site": "MFR", "maker": "Unheard", "model": "X1",
             "serial": "2", "curve": null,
             "ratings": {"poles": 3, "ratedCurrent": 100}, "installed": "2025-11-20", "tests": %s}]}
        """
                        .formatted(injectionPort, microPort, tests, tests, tests);
        return Files.writeString(folder.resolve("fleet.json"), text);
    }
}
