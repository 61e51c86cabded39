package org.juratest.e2e;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.classes;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import com.tngtech.archunit.library.dependencies.SlicesRuleDefinition;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** Who may know whom. */
class ArchitectureTest {

    private static final String ROOT = "org.juratest.";
    private static JavaClasses program;

    @BeforeAll
    static void read() {
        program = new ClassFileImporter()
                .withImportOption(new ImportOption.DoNotIncludeTests())
                .withImportOption(location -> !location.contains("-tests.jar"))
                .importPackages("org.juratest");
        // A rule over nothing always holds: make sure that every module is seen.
        for (String module : List.of("core", "formats", "instruments", "simulators", "server")) {
            assertTrue(
                    program.stream()
                                    .filter(c -> c.getPackageName().startsWith(ROOT + module))
                                    .count()
                            > 3,
                    module + " was not found");
        }
    }

    /** The formatter breaks code, but neither the words of a text nor a block of text. */
    @Test
    void noLineOfJavaIsLongerThan120Columns() throws IOException {
        List<String> tooLong = new ArrayList<>();
        int files = 0;
        for (String module : List.of("core", "formats", "instruments", "simulators", "web", "server", "e2e")) {
            List<Path> sources;
            try (Stream<Path> all = Files.walk(Path.of("..", module, "src"))) {
                sources = all.filter(p -> p.toString().endsWith(".java")).toList();
            }
            for (Path source : sources) {
                files++;
                List<String> lines = Files.readAllLines(source);
                for (int i = 0; i < lines.size(); i++) {
                    if (lines.get(i).length() > 120) {
                        tooLong.add(source + ":" + (i + 1));
                    }
                }
            }
        }
        assertTrue(files > 400, "the sources were looked at: " + files);
        assertEquals(List.of(), tooLong);
    }

    @Test
    void coreKnowsNumericsExpressionsAndAConstraintSolverAndNothingElse() {
        classes()
                .that()
                .resideInAPackage(ROOT + "core..")
                .should()
                .onlyDependOnClassesThat()
                .resideInAnyPackage(
                        ROOT + "core..",
                        "java.lang..",
                        "java.util..",
                        "java.time..",
                        "java.math..",
                        "java.security..",
                        "java.nio.charset..",
                        "org.hipparchus..",
                        "com.ezylang.evalex..",
                        "ai.timefold.solver.core..",
                        "org.jtransforms..",
                        "org.visnow.jlargearrays..",
                        "org.jspecify..")
                .check(program);
    }

    @Test
    void formatsAndInstrumentsKnowCoreOnly() {
        noClasses()
                .that()
                .resideInAPackage(ROOT + "formats..")
                .should()
                .dependOnClassesThat()
                .resideInAnyPackage(
                        ROOT + "instruments..",
                        ROOT + "server..",
                        ROOT + "simulators..",
                        "org.springframework..",
                        "java.sql..")
                .check(program);
        noClasses()
                .that()
                .resideInAPackage(ROOT + "instruments..")
                .should()
                .dependOnClassesThat()
                .resideInAnyPackage(
                        ROOT + "formats..",
                        ROOT + "server..",
                        ROOT + "simulators..",
                        "org.springframework..",
                        "java.sql..",
                        "tools.jackson..")
                .check(program);
    }

    @Test
    void simulatorsShareNothingWithTheProgramTheyAreTriedWith() {
        noClasses()
                .that()
                .resideInAPackage(ROOT + "simulators..")
                .should()
                .dependOnClassesThat()
                .resideInAnyPackage(ROOT + "core..", ROOT + "server..", ROOT + "instruments..", ROOT + "formats..")
                .check(program);
    }

    /** The demo still tells the past of breakers itself; everything else finds families, and names none. */
    @Test
    void nothingOutsideTheirWingKnowsAFamily() {
        noClasses()
                .that()
                .resideOutsideOfPackages("..family..", ROOT + "e2e..", ROOT + "server.demo..")
                .should()
                .dependOnClassesThat()
                .resideInAnyPackage(ROOT + "core.family..", ROOT + "instruments.family..", ROOT + "simulators.family..")
                .check(program);
    }

    @Test
    void noFamilyKnowsAnother() {
        for (String module : List.of("core", "instruments", "simulators")) {
            SlicesRuleDefinition.slices()
                    .matching(ROOT + module + ".family.(*)..")
                    .should()
                    .notDependOnEachOther()
                    .check(program);
        }
    }

    @Test
    void theServerDoesNotKnowTheStandIns() {
        noClasses()
                .that()
                .resideInAPackage(ROOT + "server..")
                .should()
                .dependOnClassesThat()
                .resideInAPackage(ROOT + "simulators..")
                .check(program);
    }

    @Test
    void packagesAreNamedBySubjectAndCoresHaveNoCyclesBetweenModules() {
        noClasses()
                .should()
                .resideInAnyPackage(
                        "..util..", "..utils..", "..dto..", "..impl..", "..helper..", "..manager..", "..common..")
                .check(program);
        SlicesRuleDefinition.slices()
                .matching(ROOT + "(*)..")
                .should()
                .beFreeOfCycles()
                .check(program);
    }

    @Test
    void noModuleHasCyclesBetweenItsPackages() {
        for (String module : List.of("core", "formats", "instruments", "simulators", "server")) {
            SlicesRuleDefinition.slices()
                    .matching(ROOT + module + ".(*)..")
                    .should()
                    .beFreeOfCycles()
                    .check(program);
        }
    }
}
