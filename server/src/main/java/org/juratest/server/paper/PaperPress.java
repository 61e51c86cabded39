package org.juratest.server.paper;

import com.openhtmltopdf.outputdevice.helper.BaseRendererBuilder.FontStyle;
import com.openhtmltopdf.pdfboxout.PdfRendererBuilder;
import com.openhtmltopdf.pdfboxout.PdfRendererBuilder.PdfAConformance;
import com.openhtmltopdf.svgsupport.BatikSVGDrawer;
import com.openhtmltopdf.util.XRLog;
import java.awt.color.ColorSpace;
import java.awt.color.ICC_Profile;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Component;

/** Prints XHTML as PDF/A-3u (ISO 19005-3:2012): drawings are vectors, text is text in embedded fonts. */
@Component
public class PaperPress {

    /** Files of the fonts; a heavier weight stands for bold. */
    private record Font(String file, String family, int weight) {
        byte[] bytes() {
            try (InputStream in = PaperPress.class.getResourceAsStream("/META-INF/fonts/" + file + ".ttf")) {
                if (in == null) {
                    throw new IllegalStateException("the font " + file + " is missing from the program");
                }
                return in.readAllBytes();
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        }
    }

    private static final List<Font> FONTS = List.of(
            new Font("IBMPlexSans-Regular", "Plex", 400),
            new Font("IBMPlexSans-SemiBold", "Plex", 700),
            new Font("IBMPlexSansCondensed-Regular", "Condensed", 400),
            new Font("IBMPlexSansCondensed-SemiBold", "Condensed", 700),
            new Font("IBMPlexMono-Medium", "Mono", 400),
            new Font("IBMPlexMono-SemiBold", "Mono", 700));

    static {
        // It tells the log every step of every page.
        XRLog.setLoggingEnabled(false);
    }

    private final Map<Font, byte[]> fonts =
            FONTS.stream().collect(java.util.stream.Collectors.toUnmodifiableMap(f -> f, Font::bytes));
    private final byte[] colours = ICC_Profile.getInstance(ColorSpace.CS_sRGB).getData();

    /** A printer of a page, for those who add something to it. */
    public PdfRendererBuilder builder(String html, String producer) {
        PdfRendererBuilder builder = new PdfRendererBuilder()
                .useFastMode()
                .usePdfAConformance(PdfAConformance.PDFA_3_U)
                .useColorProfile(colours)
                .useSVGDrawer(new BatikSVGDrawer())
                .withProducer(producer)
                .withHtmlContent(html, null);
        fonts.forEach((font, bytes) -> builder.useFont(
                () -> new ByteArrayInputStream(bytes), font.family, font.weight, FontStyle.NORMAL, true));
        return builder;
    }

    /** A page as it is. */
    public byte[] print(String html, String producer) {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try {
            builder(html, producer).toStream(out).run();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return out.toByteArray();
    }

    /** A text as XHTML; what XML 1.0 (2.2) has no place for is left out. */
    public static String text(@Nullable String text) {
        return text == null
                ? ""
                : text.replaceAll("[^\\t\\n\\r\\x20-\\uD7FF\\uE000-\\uFFFD\\x{10000}-\\x{10FFFF}]", "")
                        .replace("&", "&amp;")
                        .replace("<", "&lt;")
                        .replace(">", "&gt;")
                        .replace("\"", "&quot;")
                        .replace('\u2006', '\u00a0');
    }
}
