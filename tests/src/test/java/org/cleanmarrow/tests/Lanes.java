package org.cleanmarrow.tests;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.testng.IAlterSuiteListener;
import org.testng.xml.XmlClass;
import org.testng.xml.XmlSuite;
import org.testng.xml.XmlTest;

/**
 * Runs all modules' tests in two threads. One takes those of the windows, of which only one at a time can have the toolkit; the
 * other takes all others, class by class, and the first helps it once the windows are through.
 */
public final class Lanes implements IAlterSuiteListener {
    @Override
    public void alter(List<XmlSuite> suites) {
        for (XmlSuite suite : suites) {
            Map<Boolean, List<XmlClass>> lanes = suite.getTests().stream()
                    .flatMap(t -> t.getXmlClasses().stream())
                    .collect(Collectors.partitioningBy(Lanes::isOfWindows));
            suite.setTests(new ArrayList<>());
            suite.setParallel(XmlSuite.ParallelMode.TESTS);
            suite.setThreadCount(2);
            add(suite, "windows", lanes.get(true));
            for (XmlClass other : lanes.get(false)) {
                add(suite, other.getName(), new ArrayList<>(List.of(other)));
            }
        }
    }

    private static boolean isOfWindows(XmlClass of) {
        return of.getName().startsWith("org.cleanmarrow.desktop.")
                || of.getName().startsWith("org.cleanmarrow.bench.");
    }

    private static void add(XmlSuite suite, String name, List<XmlClass> classes) {
        if (!classes.isEmpty()) {
            XmlTest test = new XmlTest(suite);
            test.setName(name);
            test.setXmlClasses(classes);
        }
    }
}
