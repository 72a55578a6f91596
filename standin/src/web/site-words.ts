import type { Language } from '../world/vocabulary.ts'

/** Paths and words of the pages that every site has. */
export const siteWords = {
  en: {
    about: '/about',
    aboutText: 'About us',
    contact: '/contact',
    contactText: 'Contact',
    privacy: '/privacy',
    privacyText: 'Privacy',
    basket: '/basket',
    basketText: 'Basket',
    all: 'All pages',
    next: 'Next',
    old: 'an older note',
    catalogue: 'the catalogue as a file',
  },
  de: {
    about: '/ueber-uns',
    aboutText: 'Über uns',
    contact: '/kontakt',
    contactText: 'Kontakt',
    privacy: '/datenschutz',
    privacyText: 'Datenschutz',
    basket: '/warenkorb',
    basketText: 'Warenkorb',
    all: 'Alle Seiten',
    next: 'Weiter',
    old: 'eine ältere Notiz',
    catalogue: 'der Katalog als Datei',
  },
}
export const pagesPerArchive = 40
export const archivePath = (language: Language, number: number): string =>
  `${language === 'de' ? '/alle' : '/all'}/${number}`
