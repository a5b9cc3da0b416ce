package org.cleanmarrow.batch;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.dependencies.SlicesRuleDefinition.slices;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import java.nio.file.Path;
import org.testng.annotations.Test;

/** The rules of the modules, as docs/architecture.md states them. */
public class ArchitectureTest {
    private static final JavaClasses CORE = classes("core");
    private static final JavaClasses ALL = classes("core", "formats", "demo", "batch", "desktop");

    private static JavaClasses classes(String... modules) {
        Path root = Path.of(System.getProperty("marrow.root"));
        return new ClassFileImporter()
                .withImportOption(new ImportOption.DoNotIncludeTests())
                .importPaths(java.util.Arrays.stream(modules)
                        .map(m -> root.resolve(m).resolve("target/classes"))
                        .toArray(Path[]::new));
    }

    @Test
    public void coreKnowsNoInterfaceNoGraphicsAndNoFiles() {
        noClasses()
                .should()
                .dependOnClassesThat()
                .resideInAnyPackage(
                        "javafx..",
                        "org.lwjgl.opengl..",
                        "org.lwjgl.egl..",
                        "java.awt..",
                        "java.nio.file..",
                        "java.io..",
                        "java.net..")
                .because("the computation is tested and used without a display and without files;"
                        + " of LWJGL only meshoptimizer is taken")
                .check(classesWithoutExceptions());
    }

    /** Records and exceptions name java.io.Serializable through the language itself. */
    private static JavaClasses classesWithoutExceptions() {
        return CORE.that(new com.tngtech.archunit.base.DescribedPredicate<>("are no exceptions, enums or lambdas") {
            @Override
            public boolean test(com.tngtech.archunit.core.domain.JavaClass c) {
                return !c.isAssignableTo(Throwable.class) && !c.isEnum();
            }
        });
    }

    @Test
    public void noCyclesBetweenPackages() {
        slices().matching("org.cleanmarrow.(**)").should().beFreeOfCycles().check(ALL);
    }

    @Test
    public void desktopIsALeaf() {
        noClasses()
                .that()
                .resideOutsideOfPackage("org.cleanmarrow.desktop..")
                .should()
                .dependOnClassesThat()
                .resideInAPackage("org.cleanmarrow.desktop..")
                .check(ALL);
    }

    @Test
    public void formatsAndBatchKnowNoInterface() {
        noClasses()
                .that()
                .resideInAnyPackage("org.cleanmarrow.formats..", "org.cleanmarrow.batch..", "org.cleanmarrow.demo..")
                .should()
                .dependOnClassesThat()
                .resideInAnyPackage("javafx..", "org.lwjgl..")
                .check(ALL);
    }
}
