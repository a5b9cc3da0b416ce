package org.cleanmarrow.batch;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.dependencies.SlicesRuleDefinition.slices;
import static org.assertj.core.api.Assertions.assertThat;

import com.tngtech.archunit.base.DescribedPredicate;
import com.tngtech.archunit.core.domain.Dependency;
import com.tngtech.archunit.core.domain.JavaClass;
import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.testng.annotations.Test;

/** The rules of the modules, as docs/architecture.md states them. */
public class ArchitectureTest {
    private static final JavaClasses ALL = classes("core", "formats", "demo", "batch", "desktop");
    private static final JavaClasses CORE = ALL.that(DescribedPredicate.describe(
            "are of core", c -> c.getSource().orElseThrow().getUri().getPath().contains("/core/target/classes/")));

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
        return CORE.that(new com.tngtech.archunit.base.DescribedPredicate<>("are no exceptions, enums or pictures") {
            @Override
            public boolean test(com.tngtech.archunit.core.domain.JavaClass c) {
                return !c.isAssignableTo(Throwable.class) && !c.isEnum() && !isPicture(c);
            }
        });
    }

    /** The platform decodes pictures from memory into memory; nothing is drawn and no file is opened. */
    private static boolean isPicture(com.tngtech.archunit.core.domain.JavaClass c) {
        return c.getPackageName().equals("org.cleanmarrow.picture");
    }

    @Test
    public void picturesComeFromMemoryAndAreNotDrawn() {
        noClasses()
                .that()
                .resideInAPackage("org.cleanmarrow.picture..")
                .should()
                .dependOnClassesThat()
                .resideInAnyPackage("javafx..", "java.awt", "java.awt.event..", "java.nio.file..", "java.net..")
                .orShould()
                .dependOnClassesThat()
                .haveNameMatching("java\\.io\\.File.*|java\\.io\\.RandomAccessFile")
                .check(CORE);
    }

    @Test
    public void noCyclesBetweenPackages() {
        slices().matching("org.cleanmarrow.(**)").should().beFreeOfCycles().check(ALL);
    }

    /** Names are told apart by more than a plural. */
    @Test
    public void noTwoFoldersDifferByOneLetter() {
        Set<String> names = new TreeSet<>();
        ALL.forEach(c -> names.addAll(List.of(c.getPackageName().split("\\."))));
        assertThat(names.stream().filter(n -> names.contains(n + "s"))).isEmpty();
    }

    /** What stands on what: the shapes of the model hold no computation, and geometry knows no asset. */
    @Test
    public void theModelComputesNothingAndGeometryKnowsNoAsset() {
        noClasses()
                .that()
                .resideInAPackage("org.cleanmarrow.model..")
                .should()
                .dependOnClassesThat(
                        new com.tngtech.archunit.base.DescribedPredicate<>(
                                "are ours and neither model nor conventions") {
                            @Override
                            public boolean test(JavaClass c) {
                                return !Set.of("", "model", "convention").contains(packageOf(c));
                            }
                        })
                .check(ALL);
        noClasses()
                .that()
                .resideInAPackage("org.cleanmarrow.geometry..")
                .should()
                .dependOnClassesThat()
                .resideInAPackage("org.cleanmarrow.model..")
                .check(ALL);
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

    /** What each folder uses, without what it uses through another: the arrows of the drawing in docs/architecture.md. */
    @Test
    public void theDrawingOfCoreIsTheCode() throws Exception {
        Map<String, Set<String>> uses = new TreeMap<>();
        for (JavaClass c : CORE) {
            String from = packageOf(c);
            uses.computeIfAbsent(from, k -> new TreeSet<>());
            for (Dependency d : c.getDirectDependenciesFromSelf()) {
                String to = packageOf(d.getTargetClass());
                if (!to.isEmpty() && !to.equals(from)) {
                    uses.get(from).add(to);
                }
            }
        }
        Set<String> arrows = new TreeSet<>();
        uses.forEach((from, all) -> all.stream()
                .filter(to -> all.stream().noneMatch(other -> !other.equals(to) && reaches(uses, other, to)))
                .forEach(to -> arrows.add(from + " --> " + to)));
        Path page = Path.of(System.getProperty("marrow.root"), "docs", "architecture.md");
        Set<String> drawn = Files.readAllLines(page).stream()
                .map(String::strip)
                .filter(l -> l.matches("\\w+ --> \\w+"))
                .collect(Collectors.toCollection(TreeSet::new));
        assertThat(drawn).as("arrows in docs/architecture.md").isEqualTo(arrows);
    }

    private static boolean reaches(Map<String, Set<String>> uses, String from, String to) {
        return uses.getOrDefault(from, Set.of()).contains(to)
                || uses.getOrDefault(from, Set.of()).stream().anyMatch(next -> reaches(uses, next, to));
    }

    private static String packageOf(JavaClass c) {
        String name = c.getPackageName();
        return name.startsWith("org.cleanmarrow.") ? name.split("\\.")[2] : "";
    }

    @Test
    public void everyLibraryThatShipsIsNamedWithItsLicence() throws Exception {
        Path root = Path.of(System.getProperty("marrow.root"));
        String named = Files.readString(root.resolve("THIRD-PARTY.md"));
        try (Stream<Path> libraries = Files.list(root.resolve("target/lib"))) {
            assertThat(libraries
                            .map(l -> l.getFileName().toString().replaceFirst("-\\d.*", ""))
                            .toList())
                    .isNotEmpty()
                    .allSatisfy(l -> assertThat(named).containsPattern("[| ,]" + l + "[ ,]"));
        }
    }
}
