package org.juratest.e2e;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.classes;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import com.tngtech.archunit.library.dependencies.SlicesRuleDefinition;
import java.util.List;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** Who may know whom. */
class ArchitectureTest {

  private static final String ROOT = "org.juratest.";
  private static JavaClasses program;

  @BeforeAll
  static void read() {
    program = new ClassFileImporter().withImportOption(new ImportOption.DoNotIncludeTests()).importPackages("org.juratest");
    // A rule over nothing always holds: make sure that every module is seen.
    for (String module : List.of("core", "formats", "instruments", "simulators", "server")) {
      assertTrue(program.stream().filter(c -> c.getPackageName().startsWith(ROOT + module)).count() > 3, module + " was not found");
    }
  }

  @Test
  void coreKnowsNumericsAndAnExpressionLibraryAndNothingElse() {
    classes().that().resideInAPackage(ROOT + "core..").should().onlyDependOnClassesThat()
        .resideInAnyPackage(ROOT + "core..", "java.lang..", "java.util..", "java.time..", "java.math..", "java.security..", "java.nio.charset..", "org.hipparchus..", "com.ezylang.evalex..", "org.jtransforms..", "org.visnow.jlargearrays..", "org.jspecify..")
        .check(program);
  }

  @Test
  void formatsAndInstrumentsKnowCoreOnly() {
    noClasses().that().resideInAPackage(ROOT + "formats..").should().dependOnClassesThat()
        .resideInAnyPackage(ROOT + "instruments..", ROOT + "server..", ROOT + "simulators..", "org.springframework..", "java.sql..").check(program);
    noClasses().that().resideInAPackage(ROOT + "instruments..").should().dependOnClassesThat()
        .resideInAnyPackage(ROOT + "formats..", ROOT + "server..", ROOT + "simulators..", "org.springframework..", "java.sql..", "tools.jackson..").check(program);
  }

  @Test
  void simulatorsNeverUseTheAnalysisTheyExercise() {
    noClasses().that().resideInAPackage(ROOT + "simulators..").should().dependOnClassesThat()
        .resideInAnyPackage(ROOT + "core.curve..", ROOT + "core.limit..", ROOT + "core.run..", ROOT + "core.method..", ROOT + "core.bench..",
            ROOT + "server..", ROOT + "instruments..", ROOT + "formats..").check(program);
  }

  @Test
  void theServerDoesNotKnowTheStandIns() {
    noClasses().that().resideInAPackage(ROOT + "server..").should().dependOnClassesThat().resideInAPackage(ROOT + "simulators..").check(program);
  }

  @Test
  void packagesAreNamedBySubjectAndCoresHaveNoCyclesBetweenModules() {
    noClasses().should().resideInAnyPackage("..util..", "..utils..", "..dto..", "..impl..", "..helper..", "..manager..", "..common..").check(program);
    SlicesRuleDefinition.slices().matching(ROOT + "(*)..").should().beFreeOfCycles().check(program);
  }
}
