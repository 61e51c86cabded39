package org.juratest.server;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.ZoneId;
import java.util.List;
import java.util.Locale;

/**
 * A small valley for server tests, in the form the stand-ins write. The second breaker is of a model nobody knows and
 * has no rated voltage, the third has no long-time setting either.
 */
final class DemoFleetFile {

    private DemoFleetFile() {}

    static Path write(Path folder, int injectionPort, int microPort) throws IOException {
        StringBuilder readings = new StringBuilder();
        for (String path : List.of("A-B", "B-C", "C-A", "A-E", "B-E", "C-E", "A-LL", "B-LL", "C-LL")) {
            readings.append(reading("insulation", path, "r", 2000, "MOhm", "", "DONE", "", ""));
        }
        for (String step : List.of("contact", "contactAgain")) {
            readings.append(contact(step, "A", 198));
            readings.append(contact(step, "B", 203));
            readings.append(contact(step, "C", 290));
        }
        readings.append(trip("A", 24.0, "", "[[0.5, 301.2], [12, 300.1], [23.9, 300]]"));
        readings.append(trip("B", 41.6, "", "[]"));
        readings.append(trip("B", 24.3, "greased", "[]"));
        readings.append(trip("C", 25.0, "", "[]"));
        String tests =
                """
        [{"day": "2025-11-20", "person": "tavel", "procedure": "CBK-YEARLY",
          "conditions": {"equipmentTemperature": {"value": 14, "unit": "Cel"}}, "readings": [%s]}]"""
                        .formatted(readings.substring(1));
        String text =
                """
        {"today": "2026-11-25", "zone": "%s",
         "sites": [{"code": "MFR", "name": "Montfrel substation", "km": 5.4, "altitude": 690}],
         "people": [{"id": "tavel", "name": "A. Tavel", "role": "technician", "password": "rack-rail-16"},
           {"id": "oster", "name": "M. Oster", "role": "supervisor", "password": "penstock-42"},
           {"id": "ruvane", "name": "P. Ruvane", "role": "engineer", "password": "gantry-post-57"}, {"id": "corvise",
             "name": "E. Corvise", "role": "auditor", "password": "ledger-stone-12"},
           {"id": "valdres", "name": "H. Valdres", "role": "administrator", "password": "signal-box-90"}],
         "gear": [
           {"id": "inj-2", "name": "Injection set 2", "role": "current-source", "driver": "scpi-injection",
             "maker": "Brennach",
             "model": "PI-5000", "serial": "BR-3317", "host": "127.0.0.1",
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
         "past": {"CBK-1": %s, "CBK-2": %s, "CBK-3": %s},
         "devices": [%s, %s, %s]}
        """
                        .formatted(
                                ZoneId.systemDefault(),
                                injectionPort,
                                microPort,
                                tests,
                                tests,
                                tests,
                                breaker(
                                        "CBK-1",
                                        "MFR-CBK-07",
                                        "Orvex",
                                        "M160",
                                        "48-2291",
                                        "\"orvex-m160\"",
                                        """
                                        "ratedVoltage": "400 V", "longTimeSetting": "100 A",\s"""),
                                breaker(
                                        "CBK-2",
                                        "MFR-CBK-08",
                                        "Unheard",
                                        "X1",
                                        "1",
                                        "null",
                                        """
                                        "longTimeSetting": "100 A",\s"""),
                                breaker("CBK-3", "MFR-CBK-09", "Unheard", "X1", "2", "null", ""));
        return Files.writeString(folder.resolve("fleet.json"), text);
    }

    private static String breaker(
            String asset, String position, String maker, String model, String serial, String curve, String plate) {
        return """
        {"asset": "%s", "position": "%s", "site": "MFR", "assetClass": "lv-breaker", "maker": "%s", "model": "%s",
          "serial": "%s", "curve": %s, "title": "", "partOf": "", "part": "", "retired": "",
          "plate": {%s"poles": "3", "ratedCurrent": "100 A"},
          "stays": [{"position": "%s", "from": "2025-11-20"}]}"""
                .formatted(asset, position, maker, model, serial, curve, plate, position);
    }

    private static String contact(String step, String pole, double microhms) {
        return reading(step, pole, "r", microhms, "uOhm", "\"current\": 10, \"range\": 0.001", "DONE", "", "");
    }

    private static String trip(String pole, double seconds, String repaired, String samples) {
        String trace = ", \"trace\": {\"name\": \"Injected current\", \"xUnit\": \"s\", \"yUnit\": \"A\", \"samples\": "
                + samples + "}";
        return reading(
                "longTime",
                pole,
                "time",
                seconds,
                "s",
                "\"current\": 300, \"range\": 1000",
                "TRIPPED",
                repaired,
                trace);
    }

    private static String reading(
            String step,
            String lane,
            String point,
            double value,
            String unit,
            String facts,
            String off,
            String repaired,
            String trace) {
        return String.format(
                Locale.ROOT,
                """
                ,{"step": "%s", "lane": "%s", "point": "%s", "value": %s, "unit": "%s", "facts": {%s}, "seconds": 3,
                  "off": "%s", "repaired": "%s"%s}""",
                step,
                lane,
                point,
                value,
                unit,
                facts,
                off,
                repaired,
                trace);
    }
}
