package org.juratest.server.family;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.springframework.core.io.Resource;
import org.springframework.core.io.support.PathMatchingResourcePatternResolver;

/** Files of families: {@code families/ID/...} on the class path, whichever folder or archive they are in. */
public final class FamilyFiles {

    private static final Pattern PLACE = Pattern.compile(".*/families/([a-z0-9-]+)/(.+)");

    private FamilyFiles() {}

    /**
     * One file.
     *
     * @param family id of its family
     * @param name its path within the family's folder
     */
    public record FamilyFile(String family, String name, Resource resource) {

        public byte[] bytes() {
            try {
                return resource.getContentAsByteArray();
            } catch (IOException e) {
                throw new UncheckedIOException(resource + " cannot be read", e);
            }
        }
    }

    /**
     * Files of all families, by family and name.
     *
     * @param within pattern within a family's folder, such as {@code procedures/*.json}
     */
    public static List<FamilyFile> all(String within) {
        List<FamilyFile> files = new ArrayList<>();
        try {
            for (Resource resource :
                    new PathMatchingResourcePatternResolver().getResources("classpath*:/families/*/" + within)) {
                Matcher place = PLACE.matcher(resource.getURL().toString());
                if (!place.matches()) {
                    throw new IllegalStateException(resource + " is in no family's folder");
                }
                files.add(new FamilyFile(place.group(1), place.group(2), resource));
            }
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        files.sort(Comparator.comparing(FamilyFile::family).thenComparing(FamilyFile::name));
        return files;
    }
}
