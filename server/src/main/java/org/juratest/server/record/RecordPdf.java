package org.juratest.server.record;

import com.openhtmltopdf.outputdevice.helper.BaseRendererBuilder.FontStyle;
import com.openhtmltopdf.pdfboxout.PdfBoxRenderer;
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
import java.util.Base64;
import java.util.Calendar;
import java.util.GregorianCalendar;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TimeZone;
import org.apache.pdfbox.cos.COSArray;
import org.apache.pdfbox.cos.COSName;
import org.apache.pdfbox.pdmodel.PDDocument;
import org.apache.pdfbox.pdmodel.PDDocumentNameDictionary;
import org.apache.pdfbox.pdmodel.PDEmbeddedFilesNameTreeNode;
import org.apache.pdfbox.pdmodel.common.filespecification.PDComplexFileSpecification;
import org.apache.pdfbox.pdmodel.common.filespecification.PDEmbeddedFile;
import org.juratest.server.run.Blobs;
import org.springframework.beans.factory.annotation.Value;
import org.springframework.stereotype.Component;

/**
 * A record as a PDF/A-3u (ISO 19005-3:2012): drawings are vectors, text is text in embedded fonts, and the record's file is attached, so
 * that paper and data cannot part.
 */
@Component
class RecordPdf {

  /** Name of the attached file. */
  static final String ATTACHED = "record.json";

  /** Files of the fonts; a heavier weight stands for bold. */
  private record Font(String file, String family, int weight) {
    byte[] bytes() {
      try (InputStream in = RecordPdf.class.getResourceAsStream("/META-INF/fonts/" + file + ".ttf")) {
        if (in == null) {
          throw new IllegalStateException("the font " + file + " is missing from the program");
        }
        return in.readAllBytes();
      } catch (IOException e) {
        throw new UncheckedIOException(e);
      }
    }
  }

  private static final List<Font> FONTS = List.of(new Font("IBMPlexSans-Regular", "Plex", 400), new Font("IBMPlexSans-SemiBold", "Plex", 700),
      new Font("IBMPlexSansCondensed-Regular", "Condensed", 400), new Font("IBMPlexSansCondensed-SemiBold", "Condensed", 700),
      new Font("IBMPlexMono-Medium", "Mono", 400), new Font("IBMPlexMono-SemiBold", "Mono", 700));

  static {
    // It tells the log every step of every page.
    XRLog.setLoggingEnabled(false);
  }

  private final Blobs blobs;
  private final String address;
  private final Map<Font, byte[]> fonts;
  private final byte[] colours = ICC_Profile.getInstance(ColorSpace.CS_sRGB).getData();

  RecordPdf(Blobs blobs, @Value("${juratest.public-address}") String address) {
    this.blobs = blobs;
    this.address = address.replaceAll("/+$", "");
    this.fonts = FONTS.stream().collect(java.util.stream.Collectors.toUnmodifiableMap(f -> f, Font::bytes));
  }

  /**
   * The report of a record.
   *
   * @param file the record's file, attached as it is
   */
  byte[] of(RecordView view, byte[] file) {
    String html = new RecordPaper(view, address + "/records/" + view.number(), this::photo, blobs::trace).html();
    PdfRendererBuilder builder = new PdfRendererBuilder().useFastMode().usePdfAConformance(PdfAConformance.PDFA_3_U).useColorProfile(colours)
        .useSVGDrawer(new BatikSVGDrawer()).withProducer("Juratest " + view.chain().software()).withHtmlContent(html, null);
    fonts.forEach((font, bytes) -> builder.useFont(() -> new ByteArrayInputStream(bytes), font.family, font.weight, FontStyle.NORMAL, true));
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    try (PdfBoxRenderer renderer = builder.toStream(out).buildPdfRenderer()) {
      renderer.createPDFWithoutClosing();
      PDDocument document = renderer.getPdfDocument();
      attach(document, view, file);
      document.save(out);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    return out.toByteArray();
  }

  /** Attaches the record's file as an associated file (ISO 32000-2, 7.11.4 and 14.13; ISO 19005-3, 6.8). */
  private static void attach(PDDocument document, RecordView view, byte[] file) throws IOException {
    PDEmbeddedFile embedded = new PDEmbeddedFile(document, new ByteArrayInputStream(file));
    embedded.setSubtype("application/json");
    embedded.setSize(file.length);
    Calendar made = GregorianCalendar.from(view.finishedAt().atZone(TimeZone.getTimeZone(view.zone()).toZoneId()));
    embedded.setCreationDate(made);
    embedded.setModDate(made);
    PDComplexFileSpecification specification = new PDComplexFileSpecification();
    specification.setFile(ATTACHED);
    specification.setFileUnicode(ATTACHED);
    specification.setFileDescription("Record " + view.number() + " with its events");
    specification.setEmbeddedFile(embedded);
    specification.setEmbeddedFileUnicode(embedded);
    specification.getCOSObject().setName("AFRelationship", "Data");
    PDEmbeddedFilesNameTreeNode tree = new PDEmbeddedFilesNameTreeNode();
    tree.setNames(Map.of(ATTACHED, specification));
    PDDocumentNameDictionary names = new PDDocumentNameDictionary(document.getDocumentCatalog());
    names.setEmbeddedFiles(tree);
    document.getDocumentCatalog().setNames(names);
    COSArray associated = new COSArray();
    associated.add(specification);
    document.getDocumentCatalog().getCOSObject().setItem(COSName.getPDFName("AF"), associated);
  }

  /** A photo as an address that holds it; empty if it is not stored any more. */
  private Optional<String> photo(String sha256) {
    return blobs.byHash(sha256).map(b -> "data:" + b.mediaType() + ";base64," + Base64.getEncoder().encodeToString(b.bytes()));
  }
}
